import { Many } from "@ui/many/many";

export default function Page() {
  return <Many />;
}
