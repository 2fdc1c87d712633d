import { Conformance } from "@ui/features/conformance/conformance";

export default function Page() {
  return <Conformance />;
}
