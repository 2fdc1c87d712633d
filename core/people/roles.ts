/** Who may do what: roles in the studio and in a project, and the scopes of API tokens. */

/** Roles in the studio, the one that may do most first. */
export const STUDIO_ROLES = ["owner", "engineer", "assistant", "guest"] as const;
export type StudioRole = (typeof STUDIO_ROLES)[number];

/** Roles in a project, each with all that those after it may do. */
export const PROJECT_ROLES = ["edit", "listen", "review"] as const;
export type ProjectRole = (typeof PROJECT_ROLES)[number];

/** What an API token may be used for. */
export const SCOPES = ["read", "edit", "render", "manage"] as const;
export type Scope = (typeof SCOPES)[number];

export const STUDIO_ROLE_LABELS: Record<StudioRole, { name: string; help: string }> = {
  owner: { name: "Owner", help: "Everything: people, machines and backups as well." },
  engineer: { name: "Engineer", help: "Edits every project, renders and hands over; sees the machines." },
  assistant: { name: "Assistant", help: "Listens to every project, makes new ones, and edits those given to them." },
  guest: { name: "Guest", help: "Sees only projects that they were given: a client, a producer, a performer." },
};

export const PROJECT_ROLE_LABELS: Record<ProjectRole, { name: string; help: string }> = {
  edit: { name: "Edit", help: "Works in the project, renders and hands over." },
  listen: { name: "Listen", help: "Opens the project, hears and downloads; changes nothing." },
  review: { name: "Review", help: "Opens its reviews from the library: hears, remarks, approves." },
};

export const SCOPE_LABELS: Record<Scope, { name: string; help: string }> = {
  read: { name: "Read", help: "Projects, recordings, masters and reports." },
  edit: { name: "Edit", help: "Make projects, take recordings in, change documents." },
  render: { name: "Render", help: "Ask for masters, and hand them over." },
  manage: { name: "Manage", help: "Machines, backups and figures of the server." },
};

/** What is no role may nothing. */
const isAtLeast = <Role>(order: readonly Role[], role: Role, wanted: Role): boolean =>
  order.includes(role) && order.indexOf(role) <= order.indexOf(wanted);

/** Whether a role in the studio may do all that `wanted` may. */
export const isStudioRole = (role: StudioRole, wanted: StudioRole): boolean => isAtLeast(STUDIO_ROLES, role, wanted);

/** The same of roles in a project; `null` may nothing. */
export const isProjectRole = (role: ProjectRole | null, wanted: ProjectRole): boolean =>
  role !== null && isAtLeast(PROJECT_ROLES, role, wanted);

/** What a role in the studio is in every project, without being given it. */
const EVERYWHERE: Record<StudioRole, ProjectRole | null> = {
  owner: "edit",
  engineer: "edit",
  assistant: "listen",
  guest: null,
};

/** The role in a project of somebody who was given `given` there: the higher of it and what the studio's role is everywhere. */
export function projectRole(studio: StudioRole, given: ProjectRole | null): ProjectRole | null {
  const everywhere = EVERYWHERE[studio];
  return given !== null && !isProjectRole(everywhere, given) ? given : everywhere;
}

/** Whether a role sees projects that it was not given. */
export const seesEveryProject = (studio: StudioRole): boolean => EVERYWHERE[studio] !== null;
