import { Operations } from "@ui/features/operations/operations";

export default function Page() {
  return <Operations />;
}
