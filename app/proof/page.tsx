import { Proof } from "@ui/features/conformance/conformance";

export default function Page() {
  return <Proof />;
}
