import { signIn } from "@core/api/account";
import { anyone } from "@server/people/access";
import { principal } from "@server/people/principal";
import { signInByPassword } from "@server/people/sign-in";
import { streamingRoute } from "../respond";

export const POST = streamingRoute(signIn, anyone, ({ body }, request) =>
  signInByPassword(body, request.headers, principal().address),
);
