import { Join } from "@ui/features/people/join";

export default function Page() {
  return <Join />;
}
