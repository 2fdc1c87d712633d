/** Requests of the page to the server. Its problem documents become errors that say what happened. */
import {
  ApiClient,
  ApiProblem,
  type ResponseFrom,
  type RequestArguments,
  type RequestTo,
  type CallOptions,
} from "@core/api/client";
import type { EndpointKey } from "@core/api";
import { useSignedOut } from "./signed-out";

export { ApiProblem };

const client = new ApiClient();

/** @param key method and address of an endpoint @throws ApiProblem */
export const api = <Key extends EndpointKey>(key: Key, ...[asked]: RequestArguments<Key>): Promise<ResponseFrom<Key>> =>
  noticing(key, client.call(key, asked));

/** The same of what can be given up while it is worked on. @throws ApiProblem, AbortError */
export const apiUntil = <Key extends EndpointKey>(
  key: Key,
  asked: RequestTo<Key>,
  signal: AbortSignal,
): Promise<ResponseFrom<Key>> => noticing(key, client.call(key, asked, { signal }));

/** What is no JSON. @throws ApiProblem */
export const apiContent = <Key extends EndpointKey>(
  key: Key,
  asked?: RequestTo<Key>,
  options?: CallOptions,
): Promise<Response> => noticing(key, client.open(key, asked, options));

async function noticing<Answer>(key: EndpointKey, answer: Promise<Answer>): Promise<Answer> {
  try {
    return await answer;
  } catch (error) {
    if (error instanceof ApiProblem && error.status === 401 && key !== "POST /api/sign-in")
      useSignedOut.setState({ signedOut: true });
    throw error;
  }
}

/** Where something is, for links and players. */
export const addressOf = <Key extends EndpointKey>(key: Key, ...asked: RequestArguments<Key>): string =>
  client.address(key, ...asked);

export const blobUrl = (hash: string): string => addressOf("GET /api/blobs/{hash}", { params: { hash } });
