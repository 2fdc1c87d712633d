/** What each route asks of whoever comes: said beside the route, checked before it, and listed by a test. */
import * as z from "zod";
import {
  isProjectRole,
  isStudioRole,
  PROJECT_ROLES,
  projectRole,
  seesEveryProject,
  type ProjectRole,
  type Scope,
  type StudioRole,
} from "@core/people/roles";
import { row, rows } from "../db/database";
import { notFound, Problem } from "../problem";
import { notSignedIn } from "./identify";
import type { Principal } from "./principal";

export interface Access {
  /** For the reference. */
  readonly words: string;
  /** What an API token must allow; `null` where no token is taken. */
  readonly scope: Scope | null;
  /**
   * @param params of the route's address
   * @param request by which guests of reviews are known
   * @returns the project that it is about, where there is one
   * @throws Problem where it is not allowed
   */
  check(principal: Principal | null, params: Record<string, unknown>, request?: Request): Promise<string | null>;
}

const forbidden = (detail: string): Problem => new Problem(403, "Not allowed", detail);

/** @throws Problem where an API token does not allow it */
export function refuseByScope({ scopes }: Principal, scope: Scope | null): void {
  if (scopes === null || (scope !== null && scopes.includes(scope))) return;
  throw forbidden(
    scope ? `This API token does not allow “${scope}”.` : "This is done by a person who is signed in, not by a token.",
  );
}

/** Whoever knows the address: what it says is for everybody. */
export const anyone: Access = { words: "anyone", scope: "read", check: async () => null };

/** Whoever is signed in with such a role in the studio, or a higher one. */
export const inStudio = (role: StudioRole, scope: Scope | null): Access => ({
  words: role === "guest" ? "signed in" : role,
  scope,
  async check(principal) {
    if (!principal) throw notSignedIn();
    if (!isStudioRole(principal.role, role))
      throw forbidden(`Your role in the studio is ${principal.role}: ask an owner for what ${role}s may do.`);
    refuseByScope(principal, scope);
    return null;
  },
});

/** Roles of somebody in projects; those that are not there, or that they see nothing of, are left out. */
async function rolesIn(principal: Principal, projects: readonly string[]): Promise<Map<string, ProjectRole>> {
  const found = await rows<{ id: string; given: ProjectRole | null }>(
    `select project.id, member.role as given from project
     left join project_member member on member.project_id = project.id and member.person_id = $1
     where project.id = any($2)`,
    [principal.person?.id ?? null, projects],
  );
  const roles = found.map(({ id, given }) => [id, projectRole(principal.role, given)] as const);
  return new Map(roles.filter((entry): entry is [string, ProjectRole] => entry[1] !== null));
}

export const roleInProject = async (principal: Principal, project: string): Promise<ProjectRole | null> =>
  (await rolesIn(principal, [project])).get(project) ?? null;

/** Projects that somebody may open; `null` for all. */
export const openableProjects = (principal: Principal): Promise<string[] | null> =>
  projectsOf(principal, ["edit", "listen"]);

/** Projects whose reviews somebody may open; `null` for all. */
export const reviewableProjects = (principal: Principal): Promise<string[] | null> =>
  projectsOf(principal, PROJECT_ROLES);

async function projectsOf({ person, role }: Principal, roles: readonly ProjectRole[]): Promise<string[] | null> {
  if (seesEveryProject(role)) return null;
  const found = await rows<{ project_id: string }>(
    "select project_id from project_member where person_id = $1 and role = any($2)",
    [person?.id, roles],
  );
  return found.map(({ project_id }) => project_id);
}

/** @throws Problem unless one of the projects gives them `wanted`; what they see nothing of is not there for them */
async function refuseByRole(principal: Principal, projects: readonly string[], wanted: ProjectRole, what: string) {
  const roles = await rolesIn(principal, projects);
  if (roles.size === 0) throw notFound(what);
  const best = PROJECT_ROLES.find((role) => [...roles.values()].includes(role))!;
  if (!isProjectRole(best, wanted))
    throw forbidden(`In this project you may ${best}; somebody who looks after it can give you more.`);
  return [...roles].find(([, role]) => role === best)![0];
}

/** @throws Problem where an edit names recordings or pictures that whoever makes it has seen in no project of theirs */
export async function refuseForeignContent(
  principal: Principal,
  project: string,
  hashes: readonly string[],
): Promise<void> {
  const openable = await openableProjects(principal);
  if (openable === null || hashes.length === 0) return;
  const known = await rows<{ hash: string }>(
    "select distinct hash from project_blob where hash = any($1) and project_id = any($2)",
    [hashes, [...openable, project]],
  );
  if (known.length < new Set(hashes).size) throw notFound("recording or picture in your projects");
}

/** An access by something that belongs to projects. @param of gives the projects by the route's parameters */
const byProject = (
  words: string,
  role: ProjectRole,
  scope: Scope | null,
  what: string,
  of: (params: Record<string, unknown>, principal: Principal) => Promise<string[] | null>,
): Access => ({
  words,
  scope,
  async check(principal, params) {
    if (!principal) throw notSignedIn();
    refuseByScope(principal, scope);
    const projects = await of(params, principal);
    // Who has a role in every project need not be shown in which it lies.
    return projects === null ? null : refuseByRole(principal, projects, role, what);
  },
});

/** Whoever has such a role in the project of the address, or a higher one. */
export const inProject = (role: ProjectRole, scope: Scope | null): Access =>
  byProject(`project: ${role}`, role, scope, "project", async ({ project }) => [z.uuid().parse(project)]);

/** The same of the project that a master belongs to. */
export const ofMaster = (role: ProjectRole, scope: Scope): Access =>
  byProject(`project of the master: ${role}`, role, scope, "master", async ({ master }) => {
    const found = await row<{ project_id: string }>("select project_id from master where id = $1", [
      z.uuid().parse(master),
    ]);
    if (!found) throw notFound("master");
    return [found.project_id];
  });

/** The same of the project that a review was sent out of. */
export const ofReview = (role: ProjectRole, scope: Scope | null): Access =>
  byProject(`project of the review: ${role}`, role, scope, "review", async ({ review }) => {
    const found = await row<{ project_id: string }>("select project_id from review where id = $1", [
      z.uuid().parse(review),
    ]);
    if (!found) throw notFound("review");
    return [found.project_id];
  });

const hashParam = z.string().regex(/^[0-9a-f]{64}$/, "64 hexadecimal digits are asked for");

/**
 * The same of any project that the content of such a hash lies in, by itself or as what was made of it: decoded sound,
 * overviews, item renders, masters.
 */
export const ofContent = (role: ProjectRole, scope: Scope): Access =>
  byProject(`a project with it: ${role}`, role, scope, "file", async ({ hash: given }, principal) => {
    const hash = hashParam.parse(given);
    if (isProjectRole(projectRole(principal.role, null), role)) return null;
    const found = await rows<{ project_id: string }>(
      `with recording (hash) as (
         select $1
         union select hash from source where $1 in (pcm_hash, overview_hash)
         union select inputs ->> 'source' from item_render where $1 in (pcm_hash, overview_hash)
         union select p.hash from programme_figures f join project_blob p on strpos(f.key, p.hash) > 0
           where f.overview_hash = $1)
       select project_id from project_blob join recording using (hash)
       union select project_id from master where file_hash = $1`,
      [hash],
    );
    return found.map(({ project_id }) => project_id);
  });

/** Whoever has both. */
export const both = (first: Access, second: Access): Access => ({
  words: `${first.words}; ${second.words}`,
  scope: first.scope,
  async check(principal, params) {
    const project = await first.check(principal, params);
    return (await second.check(principal, params)) ?? project;
  },
});
