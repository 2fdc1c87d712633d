/** What an endpoint answers: its JSON, the link to the next page, and the same answer to a request that is sent again. */
import { createHash } from "node:crypto";
import { addressOf } from "@core/api/address";
import { Content, acceptsIdempotencyKey, type Endpoint, type ValidatedRequest } from "@core/api/endpoint";
import { config } from "@server/config";
import { once } from "@server/http/idempotency";
import { readBody } from "@server/http/request-body";
import { Page } from "@server/http/page";
import { principal, type Principal } from "@server/people/principal";
import { Problem } from "@server/problem";

const NO_STORE = { "Cache-Control": "no-store" };

/** @param asked by which the next page is asked for as well */
export function answerOf<E extends Endpoint>(endpoint: E, asked: ValidatedRequest<E>, answer: unknown): Response {
  if (answer instanceof Response) return answer;
  if (answer === undefined) return new Response(null, { status: 204 });
  const { entries, next } = answer instanceof Page ? answer : { entries: answer, next: null };
  checkAnswer(endpoint, entries);
  const query = { ...(asked.query as Record<string, string> | undefined), ...next };
  const link = next && `<${addressOf(endpoint.path, asked.params as Record<string, string>, query)}>; rel="next"`;
  return Response.json(entries, { headers: { ...NO_STORE, ...(link ? { Link: link } : {}) } });
}

/** In tests, that an answer is what the endpoint says. @throws Error */
function checkAnswer({ method, path, answer }: Endpoint, given: unknown): void {
  if (!config.checkAnswers) return;
  if (answer === undefined || answer instanceof Content) throw new Error(`${method} ${path} says that it has no JSON`);
  const { error } = answer.safeParse(JSON.parse(JSON.stringify(given)));
  if (error) throw new Error(`${method} ${path} answers otherwise than it says: ${error.message}`);
}

const KEY = /^[\x21-\x7e]{8,200}$/;

/** Whose keys they are: a person's, or the studio's where there are no accounts; of nobody who is unknown. */
const ownerOfKeys = ({ person, role }: Principal): string | null => person?.id ?? (role === "owner" ? "studio" : null);

/** Does a request that has an idempotency key once, and answers it again as often as it is sent. */
export async function idempotently(
  endpoint: Endpoint,
  request: Request,
  work: () => Promise<Response>,
): Promise<Response> {
  const key = request.headers.get("idempotency-key");
  const owner = ownerOfKeys(principal());
  if (key === null || owner === null || !acceptsIdempotencyKey(endpoint)) return work();
  if (!KEY.test(key))
    throw new Problem(400, "Not valid", "An idempotency key has 8 to 200 printable characters, without spaces.");
  const body = await readBody(request.clone() as Request, endpoint.maxBytes);
  const digest = createHash("sha256").update(`${request.method} ${request.url}\n`).update(body).digest("hex");
  const { status, answer, isRepeated } = await once(owner, key, digest, async () => {
    const response = await work();
    return { status: response.status, answer: await response.text() };
  });
  return new Response(status === 204 ? null : answer, {
    status,
    headers: {
      ...NO_STORE,
      "Content-Type": "application/json",
      ...(isRepeated ? { "Idempotency-Replayed": "true" } : {}),
    },
  });
}
