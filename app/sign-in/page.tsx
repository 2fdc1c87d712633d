import { SignIn } from "@ui/features/people/sign-in";

export default function Page() {
  return <SignIn />;
}
