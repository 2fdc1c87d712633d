/** Projects renamed, copied, put away and taken out again, from the library; and what is removed for good. */
import { STUDIO_NAME } from "@core/people/views";
import { projectSchema, withoutAutomaticDelivery } from "@core/project/document";
import type { Shelf } from "@core/project/views";
import { config } from "../config";
import { row, rows, transaction, type Queryable } from "../db/database";
import { publish } from "../db/notifications";
import { log } from "../log";
import { notFound, Problem } from "../problem";
import { insertState } from "./document-history";
import { edit, headOf } from "./projects";

/** An edit of the project like any other: it stands in its history, and can be undone there. */
export async function renameProject(project: string, name: string, author = STUDIO_NAME): Promise<void> {
  await edit(project, { base: null, command: { type: "renameProject", name }, author });
  await publish({ topic: "projects" });
}

/** The project as it is now as another one, without its history and its masters; recordings are shared, not copied. */
export const copyProject = (project: string, author = STUDIO_NAME): Promise<{ id: string }> =>
  transaction(async (client) => {
    const { document } = await headOf(project, client);
    const copied = projectSchema.parse({
      ...withoutAutomaticDelivery(document),
      name: `${document.name.slice(0, 180)} (copy)`,
    });
    const { id } = (await row<{ id: string }>("insert into project default values returning id", [], client))!;
    const head = await insertState(
      {
        project: id,
        parent: null,
        label: `Copy of “${document.name}”`,
        author,
        command: null,
        document: copied,
      },
      client,
    );
    await client.query("update project set head = $2, states = 1 where id = $1", [id, head]);
    await client.query(
      "insert into project_blob (project_id, hash) select $2, hash from project_blob where project_id = $1",
      [project, id],
    );
    await publish({ topic: "projects" }, client);
    return { id };
  });

/** @param shelf `null` takes it out again */
export async function shelveProject(project: string, shelf: Shelf | null): Promise<void> {
  const found = await row(
    "update project set shelf = $2, shelved_at = case when $2::text is null then null else now() end where id = $1 returning id",
    [project, shelf],
  );
  if (!found) throw notFound("project");
  await publish({ topic: "projects" });
}

/** Removes what lies in the bin for good, with its history and masters; recordings that no other project has go with it. */
export async function removeProject(project: string): Promise<void> {
  const found = await row<{ shelf: Shelf | null }>("select shelf from project where id = $1", [project]);
  if (!found) throw notFound("project");
  if (found.shelf !== "bin")
    throw new Problem(
      409,
      "Not in the bin",
      "Only what lies in the bin is removed for good: delete the project first.",
    );
  await transaction((client) => removeForGood([project], client));
  await publish({ topic: "projects" });
}

/** What refers to a project goes with it; recordings that no project has any more are left to the sweeper. */
async function removeForGood(projects: readonly string[], client: Queryable): Promise<void> {
  const named = await rows<{ hash: string }>(
    "select distinct hash from project_blob where project_id = any($1)",
    [projects],
    client,
  );
  await client.query("delete from project where id = any($1) and shelf = 'bin'", [projects]);
  await client.query(
    "delete from source where hash = any($1) and not exists (select 1 from project_blob p where p.hash = source.hash)",
    [named.map(({ hash }) => hash)],
  );
}

/** Empties the bin of what has lain there long enough. */
export async function emptyBin(client: Queryable): Promise<void> {
  const old = await rows<{ id: string }>(
    "select id from project where shelf = 'bin' and shelved_at < now() - make_interval(days => $1)",
    [config.keepDeletedDays],
    client,
  );
  if (old.length === 0) return;
  await removeForGood(
    old.map(({ id }) => id),
    client,
  );
  for (const { id } of old) log.info({ project: id }, "removed from the bin");
}
