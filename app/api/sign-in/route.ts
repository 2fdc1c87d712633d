import * as z from "zod";
import { anyone } from "@server/people/access";
import { signInByPassword } from "@server/people/sign-in";
import { visitor } from "@server/people/visitor";
import { body, lastingRoute } from "../respond";

const credentials = z.strictObject({ email: z.email().max(300), password: z.string().min(1).max(1000) });

/** Signs a person in by e-mail address and password; the answer sets the session's cookie. */
export const POST = lastingRoute(anyone, async (request) =>
  signInByPassword(await body(request, credentials), request.headers, visitor().address),
);
