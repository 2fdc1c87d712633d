/** What all routes share: origin check, validation errors and problems as RFC 9457 documents. */
import * as z from "zod";
import { CommandProblem } from "@core/project/commands";
import { log } from "@server/log";
import { Problem } from "@server/problem";
import { ready } from "@server/ready";

const LOOPBACK = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/** Refuses other sites' pages, and names that only pretend to be this machine. */
export function checkOrigin(request: Request): void {
  const host = request.headers.get("host") ?? "";
  if (!LOOPBACK.test(host))
    throw new Problem(421, "Wrong host", "Resonum answers on this machine's loopback address only.");
  if (request.method === "GET" || request.method === "HEAD") return;
  const origin = request.headers.get("origin");
  const site = request.headers.get("sec-fetch-site");
  const own = origin === null ? site === null || site === "same-origin" : origin === `http://${host}`;
  if (!own)
    throw new Problem(403, "Wrong origin", "This change was asked for by another site's page and was not made.");
}

export function problemResponse(status: number, title: string, detail: string, more: object = {}): Response {
  return new Response(JSON.stringify({ type: "about:blank", title, status, detail, ...more }), {
    status,
    headers: { "Content-Type": "application/problem+json" },
  });
}

function problemOf(error: unknown): Response {
  if (error instanceof Problem) return problemResponse(error.status, error.title, error.detail, error.more);
  if (error instanceof CommandProblem) return problemResponse(422, "Cannot be done", error.message);
  if (error instanceof z.ZodError) {
    const errors = error.issues.map(({ path, message }) => ({ where: path.join("."), what: message }));
    return problemResponse(
      400,
      "Not valid",
      errors.map(({ where, what }) => `${where || "request"}: ${what}`).join("; "),
      { errors },
    );
  }
  const message = error instanceof Error ? error.message : String(error);
  log.error({ error: message }, "request failed");
  if (/ECONNREFUSED|terminating connection|Connection terminated|timeout exceeded/.test(message))
    return problemResponse(
      503,
      "Database gone",
      "The database does not answer. Nothing that was saved is lost; trying again will help once it is back.",
    );
  return problemResponse(
    500,
    "Failed",
    "Something failed on the server; its log says what. Nothing that was saved is lost.",
  );
}

type Context<Params> = { params: Promise<Params> };

/** A route handler with everything around it. What it returns becomes JSON, unless it is a response already. */
export function route<Params = Record<string, never>>(handle: (request: Request, params: Params) => Promise<unknown>) {
  return async (request: Request, context: Context<Params>): Promise<Response> => {
    try {
      checkOrigin(request);
      await ready();
      const answer = await handle(request, await context.params);
      if (answer instanceof Response) return answer;
      return answer === undefined
        ? new Response(null, { status: 204 })
        : Response.json(answer, { headers: { "Cache-Control": "no-store" } });
    } catch (error) {
      return problemOf(error);
    }
  };
}

const MAX_BODY = 1 << 20;

/** The request's JSON, checked. */
export async function body<Schema extends z.ZodType>(request: Request, schema: Schema): Promise<z.infer<Schema>> {
  const text = await request.text();
  if (text.length > MAX_BODY) throw new Problem(413, "Too large", "The request has more than 1 MB.");
  try {
    return schema.parse(JSON.parse(text || "{}"));
  } catch (error) {
    if (error instanceof SyntaxError)
      throw new Problem(400, "Not JSON", `The request is not valid JSON: ${error.message}`);
    throw error;
  }
}

export const uuidParam = z.uuid();
