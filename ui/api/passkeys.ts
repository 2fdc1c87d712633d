"use client";

import { passkeyClient } from "@better-auth/passkey/client";
import { createAuthClient } from "better-auth/client";
import { ApiProblem } from "./api";

export interface Passkey {
  id: string;
  name?: string | undefined;
  createdAt?: Date | string | null;
}

const create = () => createAuthClient({ basePath: "/api/auth", plugins: [passkeyClient()] });
let made: ReturnType<typeof create> | undefined;
/** Made when it is first asked for: its address is the page's. */
const client = () => (made ??= create());

/** What the library answers. */
interface Answer<Data> {
  data?: Data | null;
  error?: { status?: number; statusText?: string; message?: string | undefined } | null;
}

/** @throws ApiProblem that says what is wrong */
async function answerOf<Data>(work: Promise<unknown>): Promise<Data> {
  const { data, error } = (await work) as Answer<Data>;
  if (!error) return data as Data;
  const isFresh = error.message !== "Session is not fresh";
  throw new ApiProblem(
    error.status ?? 0,
    error.statusText ?? "Failed",
    isFresh
      ? (error.message ?? "The browser did not go through with it.")
      : "You signed in some time ago: sign out and in again, then add the passkey.",
  );
}

/** Whether this browser can use passkeys at this address: they are bound to a name, never to an address in digits. */
export const canUsePasskeys = (): boolean =>
  typeof PublicKeyCredential !== "undefined" && isSecureContext && !/^[\d.:[\]]+$/.test(location.hostname);

/** Signs in by a passkey of this device. @throws ApiProblem */
export const signInByPasskey = (): Promise<void> => answerOf(client().signIn.passkey());

export const passkeys = (): Promise<Passkey[]> => answerOf(client().passkey.listUserPasskeys());

/** Makes a passkey on this device. @throws ApiProblem */
export const addPasskey = (name: string): Promise<void> => answerOf(client().passkey.addPasskey({ name }));

export const removePasskey = (id: string): Promise<void> => answerOf(client().passkey.deletePasskey({ id }));

export const signOut = (): Promise<void> => answerOf(client().signOut());
