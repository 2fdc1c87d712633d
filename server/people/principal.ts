/** Who asks: the person of a session or of an API token, or the studio itself where there are no accounts. */
import { AsyncLocalStorage } from "node:async_hooks";
import { createHash } from "node:crypto";
import { STUDIO_NAME, type Me } from "@core/people/views";
import type { Scope } from "@core/people/roles";

export interface Principal extends Me {
  /** What they may be asked for; `null` for everything that their roles allow. */
  scopes: readonly Scope[] | null;
  sessionId: string | null;
  /** Name of the API token through which they act. */
  token: string | null;
  address: string | null;
}

/** Whoever sits at the machine of a studio without accounts. */
export const studioPrincipal = (address: string | null): Principal => ({
  ...{ person: null, role: "owner", scopes: null, sessionId: null, token: null, address },
});

/** A person before the route knows them: who signs in or joins. */
export const unknownPrincipal = (address: string | null, person: Me["person"] = null): Principal => ({
  ...{ person, role: "guest", scopes: [], sessionId: null, token: null, address },
});

export const nameOf = (principal: Principal): string => principal.person?.name ?? STUDIO_NAME;

/** Of secrets with as much entropy as a hash, one round is enough. */
export const hashOfSecret = (secret: string): string => createHash("sha256").update(secret).digest("hex");

/** A request that is worked on: who asks, and what the audit trail will say that it was about. */
export interface RequestContext {
  principal: Principal;
  project: string | null;
  subject: string | null;
}

const holder = globalThis as typeof globalThis & { resonumRequests?: AsyncLocalStorage<RequestContext> };
const requests = (holder.resonumRequests ??= new AsyncLocalStorage<RequestContext>());

export const duringRequest = <Result>(context: RequestContext, work: () => Promise<Result>): Promise<Result> =>
  requests.run(context, work);

/** Who asks, within a route that lets nobody else in. */
export function principal(): Principal {
  const context = requests.getStore();
  if (!context) throw new Error("asked outside a request");
  return context.principal;
}

/** Says in the audit trail what was done something with. */
export function noteSubject(subject: string, project?: string): void {
  const context = requests.getStore();
  if (!context) return;
  context.subject = subject;
  if (project !== undefined) context.project = project;
}
