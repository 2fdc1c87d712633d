import { Activity } from "@ui/features/people/activity";

export default function Page() {
  return <Activity />;
}
