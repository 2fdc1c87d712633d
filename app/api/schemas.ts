/** What several routes are sent. */
import * as z from "zod";
import { nameSchema } from "@core/project/document";

/** Whoever joins. The password is judged where it is set. */
export const acceptanceSchema = z.strictObject({
  name: nameSchema,
  email: z.email("an e-mail address is asked for").max(300),
  password: z.string().min(1).max(1000),
});

/** Of a link: 256 bits in base64url. */
export const secretSchema = z.string().regex(/^[\w-]{43}$/, "the end of the link is missing, or has something added");
