import { joinStudio } from "@core/api/account";
import { anyone } from "@server/people/access";
import { acceptInvitation } from "@server/people/invitations";
import { principal } from "@server/people/principal";
import { signInByPassword } from "@server/people/sign-in";
import { route } from "../respond";

export const POST = route(joinStudio, anyone, async ({ body: { secret, ...given } }, request) => {
  const { address } = principal();
  const email = await acceptInvitation(secret, given, address);
  return signInByPassword({ email, password: given.password }, request.headers, address);
});
