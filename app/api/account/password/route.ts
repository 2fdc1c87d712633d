import * as z from "zod";
import { inStudio } from "@server/people/access";
import { changePassword } from "@server/people/sign-in";
import { visitor } from "@server/people/visitor";
import { body, route } from "../../respond";

const change = z.strictObject({ current: z.string().min(1).max(1000), password: z.string().min(1).max(1000) });

/** Changes one's password; all other devices are signed out. */
export const PUT = route(inStudio("guest", null), async (request) =>
  changePassword(visitor(), await body(request, change), request.headers),
);
