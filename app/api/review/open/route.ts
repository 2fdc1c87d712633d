import * as z from "zod";
import { nameSchema } from "@core/project/document";
import { anyone } from "@server/people/access";
import { visitor } from "@server/people/visitor";
import { enterReview } from "@server/review/guests";
import { body, route } from "../../respond";
import { secretSchema } from "../../schemas";

const entry = z.strictObject({ secret: secretSchema, name: nameSchema, password: z.string().max(1000).default("") });

/** Opens a review under a name; the answer sets the cookie by which the guest is known. */
export const POST = route(anyone, async (request) => {
  const { id, cookie } = await enterReview(await body(request, entry), visitor().address);
  return Response.json({ id }, { headers: { "Set-Cookie": cookie, "Cache-Control": "no-store" } });
});
