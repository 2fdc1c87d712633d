/**
 * The client of the API, which the page, the command line and other programs use. Endpoints are named by method and
 * address: their schemas are types here alone, so that a page need not load what the server checks by.
 */
import { addressOf } from "./address";
import type { ResponseOf, RequestOf } from "./endpoint";
import type { EndpointByKey, EndpointKey } from "./index";

/** What the server said was wrong (RFC 9457), or that it did not answer. */
export class ApiProblem extends Error {
  override name = "ApiProblem";

  constructor(
    /** 0 where nothing answered. */
    readonly status: number,
    readonly title: string,
    detail: string,
    /** Seconds after which it may be asked again, where the server says so. */
    readonly retryAfter: number | null = null,
    /** More members of the problem document. */
    readonly more: Readonly<Record<string, unknown>> = {},
  ) {
    super(detail);
  }
}

export interface ClientOptions {
  /** Address of the studio, without a “/” at its end; empty for the page's own. */
  server?: string;
  /** API token. */
  token?: string;
  /** How often a request that came too soon, or to a busy server, is sent again when the server says that it may be. */
  retries?: number;
  fetch?: typeof fetch;
}

export interface CallOptions {
  signal?: AbortSignal | undefined;
  /** Sent again with the same key, a request is answered again and not done again. */
  idempotencyKey?: string;
}

export type RequestTo<Key extends EndpointKey> = RequestOf<EndpointByKey[Key]>;
/** What has to be said, and may be left out where nothing has. */
export type RequestArguments<Key extends EndpointKey> =
  Record<never, never> extends RequestTo<Key> ? [asked?: RequestTo<Key>] : [asked: RequestTo<Key>];
export type ResponseFrom<Key extends EndpointKey> = ResponseOf<EndpointByKey[Key]>;

interface AnyRequest {
  params?: Record<string, string | number>;
  query?: Record<string, string | number | undefined>;
  body?: unknown;
}

/** The problem document of an answer that is none of what was asked for. */
export async function problemOfResponse(response: Response): Promise<ApiProblem> {
  const answer: unknown = await response.json().catch(() => ({}));
  const {
    title = "Failed",
    detail = `The server answered ${response.status}.`,
    ...more
  } = (answer ?? {}) as { title?: string; detail?: string };
  const seconds = Number(response.headers.get("retry-after") ?? Number.NaN);
  return new ApiProblem(response.status, title, detail, Number.isFinite(seconds) ? seconds : null, more);
}

export class ApiClient {
  readonly #server: string;
  readonly #authorization: Record<string, string>;
  readonly #retries: number;
  readonly #fetch: typeof fetch;

  constructor({ server = "", token, retries = 0, fetch: given }: ClientOptions = {}) {
    this.#server = server;
    this.#authorization = token === undefined ? {} : { Authorization: `Bearer ${token}` };
    this.#retries = retries;
    this.#fetch = given ?? ((...asked) => fetch(...asked));
  }

  /** Where something is, for links and players. */
  address<Key extends EndpointKey>(key: Key, ...[asked]: RequestArguments<Key>): string {
    const { params, query } = (asked ?? {}) as AnyRequest;
    return this.#server + addressOf(pathOf(key), params, query);
  }

  /** The response as it comes. @throws ApiProblem where the server refuses, or is not there */
  async open<Key extends EndpointKey>(key: Key, asked?: RequestTo<Key>, options: CallOptions = {}): Promise<Response> {
    const request = (asked ?? {}) as AnyRequest;
    for (let retries = 0; ; retries++) {
      try {
        return await this.#send(key, request, options);
      } catch (error) {
        const seconds = retries < this.#retries ? secondsToRetry(error, key, request, options) : null;
        if (seconds === null) throw error;
        await new Promise((resume) => setTimeout(resume, 1000 * seconds));
      }
    }
  }

  async #send(
    key: EndpointKey,
    { params, query, body }: AnyRequest,
    { signal, idempotencyKey }: CallOptions,
  ): Promise<Response> {
    const isJson = body !== undefined && !isContent(body);
    const response = await this.#fetch(this.#server + addressOf(pathOf(key), params, query), {
      method: methodOf(key),
      headers: {
        ...this.#authorization,
        ...(isJson ? { "Content-Type": "application/json" } : {}),
        ...(idempotencyKey === undefined ? {} : { "Idempotency-Key": idempotencyKey }),
      },
      ...(body === undefined
        ? {}
        : { body: isJson ? JSON.stringify(body) : (body as NonNullable<RequestInit["body"]>) }),
      ...(signal ? { signal } : {}),
    }).catch((error: unknown) => {
      if (signal?.aborted) throw error;
      throw new ApiProblem(0, "No connection", NO_CONNECTION);
    });
    if (!response.ok) throw await problemOfResponse(response);
    return response;
  }

  /** The response's JSON; of one that has none, `undefined`. @throws ApiProblem */
  async call<Key extends EndpointKey>(
    key: Key,
    asked?: RequestTo<Key>,
    options?: CallOptions,
  ): Promise<ResponseFrom<Key>> {
    const response = await this.open(key, asked, options);
    return (response.status === 204 ? undefined : await response.json()) as ResponseFrom<Key>;
  }
}

/** What was not done by the server's own word is sent again when it says; without a word only what may be done twice. */
function secondsToRetry(error: unknown, key: string, { body }: AnyRequest, options: CallOptions): number | null {
  if (!(error instanceof ApiProblem) || body instanceof ReadableStream) return null;
  if (error.retryAfter !== null) return error.retryAfter;
  const mayRepeat = methodOf(key) === "GET" || options.idempotencyKey !== undefined;
  return error.status === 0 && mayRepeat ? 1 : null;
}

const methodOf = (key: string): string => key.slice(0, key.indexOf(" "));
const pathOf = (key: string): string => key.slice(key.indexOf(" ") + 1);
const isContent = (body: unknown): boolean =>
  body instanceof Blob || body instanceof ArrayBuffer || body instanceof ReadableStream;

const NO_CONNECTION = "The server does not answer. What was saved is safe; the page goes on once it is back.";
