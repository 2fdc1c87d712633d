/** Accounts, sessions and passkeys, by a library: passwords as scrypt, sessions in the database, cookies signed. */
import { randomBytes } from "node:crypto";
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { passkey } from "@better-auth/passkey";
import { APIError } from "better-auth/api";
import { betterAuth } from "better-auth";
import { config } from "../config";
import { pool, row } from "../db/database";
import { log } from "../log";
import { audit } from "./audit";
import { unknownPrincipal } from "./principal";

/** Where the routes of the library are; only those of `ui/api/accounts.ts` are let through (`app/api/auth`). */
export const ACCOUNTS_PATH = "/api/auth";
/** Whatever happens, somebody signs in again after so long. */
const SESSION_SECONDS = 7 * 24 * 3600;
/** Within it, a person need not prove again who they are: for passkeys. */
const FRESH_SECONDS = 10 * 60;
const LONGEST_PASSWORD = 128;

/** What cookies are signed with: made at the first start, readable by the studio's account alone. */
function secret(): string {
  const path = join(config.dataFolder, "session-secret");
  mkdirSync(config.dataFolder, { recursive: true });
  try {
    writeFileSync(path, randomBytes(48).toString("base64"), { mode: 0o600, flag: "wx" });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
  }
  return readFileSync(path, "utf8");
}

async function refuseSuspended(personId: string): Promise<void> {
  const person = await row<{ suspended: boolean }>(`select suspended from person where "id" = $1`, [personId]);
  if (person?.suspended) throw new APIError("FORBIDDEN", { message: "This account is suspended." });
}

async function noteSignIn({
  userId,
  ipAddress,
}: {
  userId: string;
  ipAddress?: string | null | undefined;
}): Promise<void> {
  const person = await row<{ id: string; name: string; email: string }>(
    `select "id", name, email from person where "id" = $1`,
    [userId],
  );
  await audit(unknownPrincipal(ipAddress || null, person), { action: "signed in" });
}

const [mainHost] = config.hosts;
/** What passkeys are bound to: a name, never an address. */
export const PASSKEY_NAME = mainHost?.replace(/:\d+$/, "") ?? "localhost";

const create = () =>
  betterAuth({
    appName: "Resonum",
    basePath: ACCOUNTS_PATH,
    baseURL: {
      allowedHosts: [...config.hosts, "localhost:*", "127.0.0.1:*", "[::1]:*"],
      protocol: config.tls ? "https" : "http",
    },
    database: pool(),
    secret: secret(),
    logger: {
      level: "warn",
      log: (level, message) => log[level === "error" ? "error" : "warn"]({ message }, "accounts"),
    },
    telemetry: { enabled: false },
    rateLimit: { enabled: false }, // by account and address, in `sign-in.ts`
    user: {
      modelName: "person",
      additionalFields: { role: { type: "string", input: false, defaultValue: "guest" } },
    },
    session: { expiresIn: SESSION_SECONDS, disableSessionRefresh: true, freshAge: FRESH_SECONDS },
    emailAndPassword: { enabled: true, disableSignUp: true, minPasswordLength: 1, maxPasswordLength: LONGEST_PASSWORD },
    databaseHooks: {
      session: { create: { before: ({ userId }) => refuseSuspended(userId), after: noteSignIn } },
    },
    advanced: {
      cookiePrefix: "resonum",
      useSecureCookies: config.tls !== null,
      defaultCookieAttributes: { sameSite: "lax", httpOnly: true },
      ipAddress: { ipAddressHeaders: ["x-resonum-address"] },
      database: { generateId: "uuid" },
    },
    plugins: [passkey({ rpID: PASSKEY_NAME, rpName: "Resonum" })],
  });

const holder = globalThis as typeof globalThis & { resonumAccounts?: ReturnType<typeof create> };

export const accounts = (): ReturnType<typeof create> => (holder.resonumAccounts ??= create());
