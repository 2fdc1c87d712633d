import { Library } from "@ui/library/library";

export default function Page() {
  return <Library />;
}
