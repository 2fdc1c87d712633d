import { useSignedOut } from "./signed-out";

/** Requests to the server. Its problem documents become errors that say what happened. */
export class ServerProblem extends Error {
  override name = "ServerProblem";

  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
  ) {
    super(detail);
  }
}

export async function api<Answer>(path: string, options: { method?: string; body?: unknown } = {}): Promise<Answer> {
  let response: Response;
  try {
    response = await fetch(`/api/${path}`, {
      method: options.method ?? "GET",
      ...(options.body === undefined
        ? {}
        : { body: JSON.stringify(options.body), headers: { "Content-Type": "application/json" } }),
    });
  } catch {
    throw new ServerProblem(
      0,
      "No connection",
      "The server does not answer. What was saved is safe; the page goes on once it is back.",
    );
  }
  if (response.status === 204) return undefined as Answer;
  const answer: unknown = await response.json().catch(() => ({}));
  if (response.ok) return answer as Answer;
  const { title = "Failed", detail = `The server answered ${response.status}.` } = answer as {
    title?: string;
    detail?: string;
  };
  if (response.status === 401 && path !== "sign-in") useSignedOut.setState({ signedOut: true });
  throw new ServerProblem(response.status, title, detail);
}

export const blobUrl = (hash: string): string => `/api/blobs/${hash}`;
