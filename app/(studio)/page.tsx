import { Library } from "@ui/features/library/library";

export default function Page() {
  return <Library />;
}
