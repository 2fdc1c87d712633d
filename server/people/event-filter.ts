/** Which events a page is told: those of what whoever has it open may see. */
import type { ServerEvent } from "@core/project/views";
import { rows } from "../db/database";
import { openableProjects } from "./access";
import type { Principal } from "./principal";

export class EventFilter {
  #projects: Promise<string[] | null>;
  /** Whether a recording lies in one of their projects; `null` of projects stands for all. */
  readonly #recordings = new Map<string, Promise<boolean>>();

  constructor(private readonly principal: Principal) {
    this.#projects = openableProjects(principal);
  }

  async admits(event: ServerEvent): Promise<boolean> {
    if (event.topic === "people" || event.topic === "projects") {
      // Roles or projects have changed: what was found out before may be wrong.
      this.#projects = openableProjects(this.principal);
      this.#recordings.clear();
      return true;
    }
    const projects = await this.#projects;
    if (projects === null) return true;
    return "project" in event ? projects.includes(event.project) : this.#hasRecording(event.hash, projects);
  }

  #hasRecording(hash: string, projects: readonly string[]): Promise<boolean> {
    const known = this.#recordings.get(hash);
    if (known) return known;
    const asked = rows("select 1 from project_blob where hash = $1 and project_id = any($2) limit 1", [
      hash,
      projects,
    ]).then((found) => found.length > 0);
    this.#recordings.set(hash, asked);
    return asked;
  }
}
