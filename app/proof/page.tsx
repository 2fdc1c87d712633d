import { Proof } from "@ui/proof/proof";

export default function Page() {
  return <Proof />;
}
