import { Account } from "@ui/features/people/account";

export default function Page() {
  return <Account />;
}
