/** How things are told apart and called in everything that is stored. */
import * as z from "zod";

export const idSchema = z.string().regex(/^[a-z0-9-]{1,40}$/);
export const hashSchema = z.string().regex(/^[0-9a-f]{64}$/, "a SHA-256 in hexadecimal is expected");
export const nameSchema = z.string().trim().min(1, "a name is needed").max(200);
