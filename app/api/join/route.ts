import { anyone } from "@server/people/access";
import { acceptInvitation } from "@server/people/invitations";
import { signInByPassword } from "@server/people/sign-in";
import { visitor } from "@server/people/visitor";
import { body, route } from "../respond";
import { acceptanceSchema, secretSchema } from "../schemas";

const joining = acceptanceSchema.extend({ secret: secretSchema });

/** Follows a link: makes an account, or sets another password. Whoever did is signed in. */
export const POST = route(anyone, async (request) => {
  const { secret, ...given } = await body(request, joining);
  const { address } = visitor();
  const email = await acceptInvitation(secret, given, address);
  return signInByPassword({ email, password: given.password }, request.headers, address);
});
