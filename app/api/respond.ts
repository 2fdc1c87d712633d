/** What all routes share: who is let in, what is asked for and answered by the endpoint's schemas, and what is noted. */
import { randomUUID } from "node:crypto";
import { type HandlerResult, type Endpoint, type ValidatedRequest } from "@core/api/endpoint";
import type { Page } from "@server/http/page";
import { heavyRequests, lightRequests, type RequestLimiter } from "@server/http/request-limiter";
import { log, onBehalfOf } from "@server/log";
import { noteRequest } from "@server/operations/metrics";
import type { Access } from "@server/people/access";
import { audit } from "@server/people/audit";
import { addressOf, principalOf } from "@server/people/identify";
import { limitRequests } from "@server/people/request-rates";
import { duringRequest, unknownPrincipal } from "@server/people/principal";
import { whenReady } from "@server/ingest/startup";
import { idempotently, answerOf } from "./answers";
import { given } from "./given";
import { checkOrigin } from "./origin";
import { problemOf } from "./problems";

/** An address without parameters comes with none. */
type Context = { params: Promise<Record<string, unknown> | undefined> };

type Paged<Answer> = Answer extends readonly (infer Entry)[] ? Page<Entry> : never;

/** Handles a request that was checked. A response goes as it is; anything else becomes the JSON of the answer. */
type Handle<E extends Endpoint> = (
  given: ValidatedRequest<E>,
  request: Request,
) => Promise<HandlerResult<E> | Paged<HandlerResult<E>> | Response>;

interface Around {
  access: Access;
  /** What the audit trail says that was done. */
  action: string | undefined;
  gate: RequestLimiter | null;
}

/**
 * A handler of an endpoint, with everything around it.
 * @param access who is let in
 * @param action what the audit trail says that was done
 */
export const route = <E extends Endpoint>(endpoint: E, access: Access, handle: Handle<E>, action?: string) =>
  ofEndpoint(endpoint, handle, { access, action, gate: lightRequests });

/** The same for what takes much memory or time: only a few at a time, and some more wait. */
export const heavyRoute = <E extends Endpoint>(endpoint: E, access: Access, handle: Handle<E>, action?: string) =>
  ofEndpoint(endpoint, handle, { access, action, gate: heavyRequests });

/** The same for what lasts as long as whoever asks takes. It keeps nobody waiting. */
export const streamingRoute = <E extends Endpoint>(endpoint: E, access: Access, handle: Handle<E>) =>
  ofEndpoint(endpoint, handle, { access, action: undefined, gate: null });

/** Of what is no endpoint of ours: a library answers it, or somebody else's format. @param gate none for what lasts */
export const plainRoute = <Params>(
  access: Access,
  handle: (request: Request, params: Params) => Promise<Response>,
  gate: RequestLimiter | null = lightRequests,
) => guarded({ access, action: undefined, gate }, (request, params) => handle(request, params as Params));

const ofEndpoint = <E extends Endpoint>(endpoint: E, handle: Handle<E>, around: Around) =>
  Object.assign(
    guarded(around, (request, params) =>
      idempotently(endpoint, request, async () => {
        const asked = await given(endpoint, request, params);
        return answerOf(endpoint, asked, await handle(asked, request));
      }),
    ),
    { endpoint },
  );

/** A download that goes on, or a player that reads on, is the same download. */
const isContinued = (request: Request): boolean => !/^(bytes=0-)?$/.test(request.headers.get("range") ?? "");

type Answer = (request: Request, params: Record<string, unknown>) => Promise<Response>;

/** Lets in who may, does what they ask for, and notes it. */
async function answered({ access, action }: Around, answer: Answer, request: Request, params: Record<string, unknown>) {
  const known = await principalOf(request);
  const project = await access.check(known, params, request);
  const principal = known ?? unknownPrincipal(addressOf(request));
  await limitRequests(principal);
  const context = { principal, project, subject: null as string | null };
  return duringRequest(context, async () => {
    const response = await answer(request, params);
    if (action && response.status < 400 && !isContinued(request)) await audit(principal, { action, ...context });
    return response;
  });
}

function guarded(around: Around, answer: Answer) {
  const respond = async (request: Request, context: Context): Promise<Response> => {
    try {
      checkOrigin(request);
      await whenReady();
      const params = (await context.params) ?? {};
      const work = () => answered(around, answer, request, params);
      return await (around.gate ? around.gate.through(work) : work());
    } catch (error) {
      return problemOf(error);
    }
  };
  const handler = (request: Request, context: Context): Promise<Response> =>
    noted(request, () => respond(request, context));
  return Object.assign(handler, { access: around.access });
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
