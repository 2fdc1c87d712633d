/** One's own account, signing in and joining. */
import * as z from "zod";
import { nameSchema } from "../parameters/identifiers";
import { SCOPES } from "../people/roles";
import { invitationPreviewSchema, meSchema, sessionViewSchema, tokenViewSchema } from "../people/views";
import { endpoint } from "./endpoint";

const password = z.string().min(1).max(1000);
/** Of a link: 256 bits in base64url. */
export const secretSchema = z.string().regex(/^[\w-]{43}$/, "the end of the link is missing, or has something added");

/** Who somebody is that begins an account. */
export const acceptanceSchema = z.strictObject({
  name: nameSchema,
  email: z.email("an e-mail address is asked for").max(300),
  password,
});

export const getMe = endpoint("GET", "/api/me", "Whoever asks, and their role in the studio.", { answer: meSchema });

export const renameSelf = endpoint(
  "PATCH",
  "/api/account",
  "Changes the name that edits and remarks stand under from now on.",
  { body: z.strictObject({ name: nameSchema }) },
);

export const changePassword = endpoint(
  "PUT",
  "/api/account/password",
  "Changes one's password; all other devices are signed out.",
  { body: z.strictObject({ current: password, password }) },
);

export const listSessions = endpoint("GET", "/api/account/sessions", "Devices that one is signed in on.", {
  answer: z.array(sessionViewSchema),
});

export const endSession = endpoint("DELETE", "/api/account/sessions/{session}", "Signs a device out.");

export const listTokens = endpoint("GET", "/api/account/tokens", "One's API tokens.", {
  answer: z.array(tokenViewSchema),
});

export const createToken = endpoint(
  "POST",
  "/api/account/tokens",
  "Makes an API token: the answer has it, told this once.",
  {
    body: z.strictObject({
      name: nameSchema,
      scopes: z.array(z.enum(SCOPES)).min(1, "at least one scope is asked for").readonly(),
      days: z.number().int().min(1).max(3650).nullable().describe("Null for one that does not expire."),
    }),
    answer: tokenViewSchema.extend({ token: z.string() }),
    hasSecret: true,
  },
);

export const withdrawToken = endpoint(
  "DELETE",
  "/api/account/tokens/{token}",
  "Withdraws an API token: it opens nothing from then on.",
);

export const signIn = endpoint(
  "POST",
  "/api/sign-in",
  "Signs a person in by e-mail address and password; the answer sets the session's cookie.",
  { body: z.strictObject({ email: z.email().max(300), password }), hasSecret: true },
);

export const previewInvitation = endpoint(
  "POST",
  "/api/join/preview",
  "Where a link leads, without following it. Its secret stands in the body: addresses are kept in too many places.",
  { body: z.strictObject({ secret: secretSchema }), answer: invitationPreviewSchema, hasSecret: true },
);

export const joinStudio = endpoint(
  "POST",
  "/api/join",
  "Follows a link: makes an account, or sets another password. Whoever did is signed in.",
  { body: acceptanceSchema.extend({ secret: secretSchema }), hasSecret: true },
);
