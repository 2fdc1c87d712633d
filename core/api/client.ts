/** The client of the API, which the page, the command line and other programs use. */
import { addressOf, Content, type AnswerOf, type Asked, type Endpoint } from "./endpoint";

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

type AskedOf<E extends Endpoint> = Record<never, never> extends Asked<E> ? [asked?: Asked<E>] : [asked: Asked<E>];

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

  /** Where an endpoint is, for links and players. */
  address<E extends Endpoint>(endpoint: E, ...[asked]: AskedOf<E>): string {
    const { params, query } = (asked ?? {}) as AnyAsked;
    return this.#server + addressOf(endpoint.path, params, query);
  }

  /** The answer as it comes. @throws ApiProblem where the server refuses, or is not there */
  async open<E extends Endpoint>(endpoint: E, asked?: Asked<E>, options: CallOptions = {}): Promise<Response> {
    const { params, query, body } = (asked ?? {}) as AnyAsked;
    const isJson = body !== undefined && !(endpoint.body instanceof Content);
    const response = await this.#fetch(this.#server + addressOf(endpoint.path, params, query), {
      method: endpoint.method,
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
  async call<E extends Endpoint>(endpoint: E, asked?: Asked<E>, options?: CallOptions): Promise<AnswerOf<E>> {
    const response = await this.open(endpoint, asked, options);
    return (response.status === 204 ? undefined : await response.json()) as AnswerOf<E>;
  }
}

const NO_CONNECTION = "The server does not answer. What was saved is safe; the page goes on once it is back.";
