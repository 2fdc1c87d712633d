/** Requests of the page to the server. Its problem documents become errors that say what happened. */
import { ApiClient, ApiProblem, type CallOptions } from "@core/api/client";
import { signIn } from "@core/api/account";
import type { AnswerOf, Asked, Endpoint } from "@core/api/endpoint";
import { getBlob } from "@core/api/recordings";
import { useSignedOut } from "./signed-out";

export { ApiProblem };

const client = new ApiClient();

type AskedOf<E extends Endpoint> = Record<never, never> extends Asked<E> ? [asked?: Asked<E>] : [asked: Asked<E>];

/** @throws ApiProblem */
export const api = <E extends Endpoint>(endpoint: E, ...[asked]: AskedOf<E>): Promise<AnswerOf<E>> =>
  noticing(endpoint, client.call(endpoint, asked));

/** The same of what can be given up while it is worked on. @throws ApiProblem, AbortError */
export const apiUntil = <E extends Endpoint>(endpoint: E, asked: Asked<E>, signal: AbortSignal): Promise<AnswerOf<E>> =>
  noticing(endpoint, client.call(endpoint, asked, { signal }));

/** What is no JSON. @throws ApiProblem */
export const apiContent = <E extends Endpoint>(
  endpoint: E,
  asked?: Asked<E>,
  options?: CallOptions,
): Promise<Response> => noticing(endpoint, client.open(endpoint, asked, options));

async function noticing<Answer>({ path }: Endpoint, answer: Promise<Answer>): Promise<Answer> {
  try {
    return await answer;
  } catch (error) {
    if (error instanceof ApiProblem && error.status === 401 && path !== signIn.path)
      useSignedOut.setState({ signedOut: true });
    throw error;
  }
}

/** Where something is, for links and players. */
export const addressOf = <E extends Endpoint>(endpoint: E, ...asked: AskedOf<E>): string =>
  client.address(endpoint, ...asked);

export const blobUrl = (hash: string): string => addressOf(getBlob, { params: { hash } } as never);
