/**
 * The client of the API, which the page, the command line and other programs use. Endpoints are named by method and
 * address: their schemas are types here alone, so that a page need not load what the server checks by.
 */
import { addressOf } from "./address";
import type { AnswerOf, Asked } from "./endpoint";
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
  ) {
    super(detail);
  }
}

export interface ClientOptions {
  /** Address of the studio, without a “/” at its end; empty for the page's own. */
  server?: string;
  /** API token. */
  token?: string;
  fetch?: typeof fetch;
}

export interface CallOptions {
  signal?: AbortSignal | undefined;
  /** Sent again with the same key, a request is answered again and not done again. */
  idempotencyKey?: string;
  headers?: Record<string, string>;
}

export type AskedOf<Key extends EndpointKey> = Asked<EndpointByKey[Key]>;
/** What has to be said, and may be left out where nothing has. */
export type AskedArguments<Key extends EndpointKey> =
  Record<never, never> extends AskedOf<Key> ? [asked?: AskedOf<Key>] : [asked: AskedOf<Key>];
export type AnswerTo<Key extends EndpointKey> = AnswerOf<EndpointByKey[Key]>;

interface AnyAsked {
  params?: Record<string, string | number>;
  query?: Record<string, string | number | undefined>;
  body?: unknown;
}

/** The problem document of an answer that is none of what was asked for. */
export async function problemOfResponse(response: Response): Promise<ApiProblem> {
  const answer: unknown = await response.json().catch(() => ({}));
  const { title = "Failed", detail = `The server answered ${response.status}.` } = (answer ?? {}) as {
    title?: string;
    detail?: string;
  };
  const seconds = Number(response.headers.get("retry-after") ?? Number.NaN);
  return new ApiProblem(response.status, title, detail, Number.isFinite(seconds) ? seconds : null);
}

export class ApiClient {
  readonly #server: string;
  readonly #headers: Record<string, string>;
  readonly #fetch: typeof fetch;

  constructor({ server = "", token, fetch: given }: ClientOptions = {}) {
    this.#server = server;
    this.#headers = token === undefined ? {} : { Authorization: `Bearer ${token}` };
    this.#fetch = given ?? ((...asked) => fetch(...asked));
  }

  /** Where something is, for links and players. */
  address<Key extends EndpointKey>(key: Key, ...[asked]: AskedArguments<Key>): string {
    const { params, query } = (asked ?? {}) as AnyAsked;
    return this.#server + addressOf(pathOf(key), params, query);
  }

  /** The answer as it comes. @throws ApiProblem where the server refuses, or is not there */
  async open<Key extends EndpointKey>(key: Key, asked?: AskedOf<Key>, options: CallOptions = {}): Promise<Response> {
    const { params, query, body } = (asked ?? {}) as AnyAsked;
    const isJson = body !== undefined && !isContent(body);
    const response = await this.#fetch(this.#server + addressOf(pathOf(key), params, query), {
      method: key.slice(0, key.indexOf(" ")),
      headers: {
        ...this.#headers,
        ...(isJson ? { "Content-Type": "application/json" } : {}),
        ...(options.idempotencyKey ? { "Idempotency-Key": options.idempotencyKey } : {}),
        ...options.headers,
      },
      ...(body === undefined
        ? {}
        : { body: isJson ? JSON.stringify(body) : (body as NonNullable<RequestInit["body"]>) }),
      ...(options.signal ? { signal: options.signal } : {}),
    }).catch((error: unknown) => {
      if (options.signal?.aborted) throw error;
      throw new ApiProblem(0, "No connection", NO_CONNECTION);
    });
    if (!response.ok) throw await problemOfResponse(response);
    return response;
  }

  /** The answer's JSON; of one that has none, `undefined`. @throws ApiProblem */
  async call<Key extends EndpointKey>(key: Key, asked?: AskedOf<Key>, options?: CallOptions): Promise<AnswerTo<Key>> {
    const response = await this.open(key, asked, options);
    return (response.status === 204 ? undefined : await response.json()) as AnswerTo<Key>;
  }
}

const pathOf = (key: string): string => key.slice(key.indexOf(" ") + 1);
const isContent = (body: unknown): boolean =>
  body instanceof Blob || body instanceof ArrayBuffer || body instanceof ReadableStream;

const NO_CONNECTION = "The server does not answer. What was saved is safe; the page goes on once it is back.";
