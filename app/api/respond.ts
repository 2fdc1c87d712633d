/** What all routes share: origin check, validation errors and problems as RFC 9457 documents. */
import { randomUUID } from "node:crypto";
import * as z from "zod";
import { CommandProblem } from "@core/project/commands";
import { config } from "@server/config";
import { databaseTrouble } from "@server/db/database";
import { heavyRequests, lightRequests, type RequestLimiter } from "@server/http/request-limiter";
import { log, onBehalfOf } from "@server/log";
import { noteRequest } from "@server/operations/metrics";
import type { Access } from "@server/people/access";
import { audit } from "@server/people/audit";
import { addressOf, visitorOf } from "@server/people/identify";
import { duringVisit, unknownVisitor } from "@server/people/visitor";
import { Problem } from "@server/problem";
import { readBody, refuseBrokenText } from "@server/http/request-body";
import { guestOf, type Guest } from "@server/review/guests";
import { whenReady } from "@server/ingest/startup";

const LOOPBACK = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/** How the studio calls itself on such a host. */
const originOf = (host: string): string => `${config.tls ? "https" : "http"}://${host}`;

/** Refuses other sites' pages, and names that only pretend to be this machine. */
export function checkOrigin(request: Request): void {
  const host = request.headers.get("host") ?? "";
  if (!LOOPBACK.test(host) && !config.hosts.includes(host.toLowerCase()))
    throw new Problem(
      421,
      "Wrong host",
      config.hosts.length === 0
        ? "Resonum answers on this machine's loopback address only."
        : "The studio does not answer to this name: “resonum serve --name” says which it has.",
    );
  if (request.method === "GET" || request.method === "HEAD") return;
  const origin = request.headers.get("origin");
  const site = request.headers.get("sec-fetch-site");
  const own = origin === null ? site === null || site === "same-origin" : origin === originOf(host);
  if (!own)
    throw new Problem(403, "Wrong origin", "This change was asked for by another site's page and was not made.");
}

export function problemResponse(
  status: number,
  title: string,
  detail: string,
  more: object = {},
  headers: Record<string, string> = {},
): Response {
  return new Response(JSON.stringify({ type: "about:blank", title, status, detail, ...more }), {
    status,
    headers: { "Content-Type": "application/problem+json", ...headers },
  });
}

/** What went wrong as a problem document (RFC 9457). */
export function problemOf(error: unknown): Response {
  if (error instanceof Problem)
    return problemResponse(error.status, error.title, error.detail, error.more, error.headers);
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
  if (error instanceof URIError)
    return problemResponse(400, "Not valid", "The address holds signs that stand for no character.");
  const trouble = databaseTrouble(error);
  if (trouble)
    return problemResponse(503, trouble.title, trouble.detail, {}, { "Retry-After": String(trouble.seconds) });
  log.error({ error: error instanceof Error ? error.message : String(error) }, "request failed");
  return problemResponse(
    500,
    "Failed",
    "Something failed on the server; its log says what. Nothing that was saved is lost.",
  );
}

type Context<Params> = { params: Promise<Params> };

type Handle<Params> = (request: Request, params: Params) => Promise<unknown>;

/**
 * A route handler with everything around it. What it returns becomes JSON, unless it is a response already.
 * @param access who is let in
 * @param deed what the audit trail says that was done
 */
export const route = <Params = Record<string, never>>(access: Access, handle: Handle<Params>, deed?: string) =>
  guarded(access, handle, deed, lightRequests);

/** The same for what takes much memory or time: only a few at a time, and some more wait. */
export const heavyRoute = <Params = Record<string, never>>(access: Access, handle: Handle<Params>, deed?: string) =>
  guarded(access, handle, deed, heavyRequests);

/** The same for what lasts as long as whoever asks takes: events, and files that arrive. It keeps nobody waiting. */
export const lastingRoute = <Params = Record<string, never>>(access: Access, handle: Handle<Params>) =>
  guarded(access, handle, undefined, null);

/** A download that goes on, or a player that reads on, is the same download. */
const isContinued = (request: Request): boolean => !/^(bytes=0-)?$/.test(request.headers.get("range") ?? "");

/** Lets in who may, does what they ask for, and notes it. */
async function visited<Params>(
  access: Access,
  handle: Handle<Params>,
  deed: string | undefined,
  request: Request,
  params: Params,
) {
  const visitor = await visitorOf(request);
  const project = await access.check(visitor, params as Record<string, unknown>);
  const visit = { visitor: visitor ?? unknownVisitor(addressOf(request)), project, subject: null as string | null };
  return duringVisit(visit, async () => {
    const answer = await handle(request, params);
    if (deed && !(answer instanceof Response && answer.status >= 400) && !isContinued(request))
      await audit(visit.visitor, { action: deed, ...visit });
    return answer;
  });
}

function guarded<Params>(
  access: Access,
  handle: Handle<Params>,
  deed: string | undefined,
  gate: RequestLimiter | null,
) {
  const answer = async (request: Request, context: Context<Params>): Promise<Response> => {
    try {
      checkOrigin(request);
      await whenReady();
      const params = await context.params;
      const work = () => visited(access, handle, deed, request, params);
      const answer = await (gate ? gate.through(work) : work());
      if (answer instanceof Response) return answer;
      return answer === undefined
        ? new Response(null, { status: 204 })
        : Response.json(answer, { headers: { "Cache-Control": "no-store" } });
    } catch (error) {
      return problemOf(error);
    }
  };
  const handler = (request: Request, context: Context<Params>): Promise<Response> =>
    noted(request, () => answer(request, context));
  return Object.assign(handler, { access });
}

/** Slower answers are told in the log, with what was asked for. */
const SLOW_SECONDS = 2;
const REQUEST_ID = /^[\w-]{8,64}$/;

/** Gives a request its id, which every line of the log says that is written on its behalf, and notes how long it took. */
async function noted(request: Request, answer: () => Promise<Response>): Promise<Response> {
  const given = request.headers.get("x-request-id") ?? "";
  const id = REQUEST_ID.test(given) ? given : randomUUID();
  const began = performance.now();
  return onBehalfOf(id, async () => {
    const response = await answer();
    const seconds = (performance.now() - began) / 1000;
    const { pathname } = new URL(request.url);
    const { method } = request;
    const { status } = response;
    noteRequest(method, pathname, status, seconds);
    if (status >= 500 || seconds > SLOW_SECONDS)
      log.warn({ method, path: pathname, status, seconds }, "a request was slow or failed");
    response.headers.set("X-Request-Id", id);
    return response;
  });
}

const MAX_BODY = 1 << 20;

/** The request's JSON, checked. */
export async function body<Schema extends z.ZodType>(
  request: Request,
  schema: Schema,
  maxBytes = MAX_BODY,
): Promise<z.infer<Schema>> {
  const bytes = await readBody(request, maxBytes);
  try {
    const given: unknown = JSON.parse(bytes.length > 0 ? bytes.toString("utf8") : "{}");
    refuseBrokenText(given);
    return schema.parse(given);
  } catch (error) {
    if (error instanceof SyntaxError)
      throw new Problem(400, "Not JSON", "The request is not valid JSON: it was cut off, or not made by this page.");
    throw error;
  }
}

export const uuidParam = z.uuid();
/** Of a file in a review. */
export const positionParam = z.coerce.number().int().min(0).max(10_000);

/** Who asks for the review of a route's address. @throws Problem where nobody is known */
export const guest = (request: Request, { review }: { review: string }): Promise<Guest> =>
  guestOf(request, uuidParam.parse(review));
