import { ApiReference } from "@ui/features/api-reference/api-reference";

export default function Page() {
  return <ApiReference />;
}
