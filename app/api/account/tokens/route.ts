import * as z from "zod";
import { SCOPES } from "@core/people/roles";
import { nameSchema } from "@core/project/document";
import { inStudio } from "@server/people/access";
import { createToken, tokensOf } from "@server/people/own-account";
import { visitor } from "@server/people/visitor";
import { body, route } from "../../respond";

/** One's API tokens. */
export const GET = route(inStudio("guest", null), () => tokensOf(visitor()));

const wanted = z.strictObject({
  name: nameSchema,
  scopes: z.array(z.enum(SCOPES)).min(1, "at least one scope is asked for"),
  days: z.number().int().min(1).max(3650).nullable(),
});

/** Makes an API token: the answer has it, told this once. */
export const POST = route(inStudio("guest", null), async (request) =>
  createToken(visitor(), await body(request, wanted)),
);
