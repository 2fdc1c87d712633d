import { People } from "@ui/features/people/people";

export default function Page() {
  return <People />;
}
