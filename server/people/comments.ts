/** Comments among the team: kept beside the project, so that nobody's undo takes another's words away. */
import type { Comment, NewComment } from "@core/project/comment";
import { subjectOf } from "@core/project/subjects";
import { row, rows } from "../db/database";
import { publish } from "../db/notifications";
import { notFound, Problem } from "../problem";
import { openProject } from "../projects/projects";
import { nameOf, type Principal } from "./principal";

/** The second parameter is the person who asks; without accounts all is the studio's own. */
const COLUMNS = `id, item_id, start_frame as start, end_frame as "end", thread, name,
  person_id is not distinct from $2::uuid as own, words, created_at, resolved_at, resolved_by`;

const personOf = ({ person }: Principal): string | null => person?.id ?? null;

export const commentsOf = (by: Principal, project: string): Promise<Comment[]> =>
  rows<Comment>(`select ${COLUMNS} from comment where project_id = $1 order by created_at, id`, [
    project,
    personOf(by),
  ]);

/** So many in a project: more is a mistake of a program. */
const MOST = 20_000;

export async function addComment(by: Principal, project: string, comment: NewComment): Promise<Comment> {
  const { item, start, end, words, thread } = comment;
  if (end !== null && (start === null || end <= start))
    throw new Problem(422, "Not a range", "A range ends after it begins.");
  await refuseUnlessThere(project, item, thread);
  const { count } = (await row<{ count: number }>("select count(*)::int as count from comment where project_id = $1", [
    project,
  ]))!;
  if (count >= MOST) throw new Problem(409, "Too many comments", `A project has ${MOST} at most: remove some first.`);
  const made = (await row<Comment>(
    `insert into comment (project_id, person_id, item_id, start_frame, end_frame, thread, name, words)
     values ($1, $2, $3, $4, $5, $6, $7, $8) returning ${COLUMNS}`,
    [project, personOf(by), item, start, end, thread, nameOf(by), words],
  ))!;
  await publish({ topic: "comments", project });
  return made;
}

async function refuseUnlessThere(project: string, item: string, thread: string | null): Promise<void> {
  if (thread === null) {
    const { document } = await openProject(project);
    if (!subjectOf(document, item)) throw notFound("item");
    return;
  }
  const answered = await row<{ thread: string | null }>(
    "select thread from comment where id = $1 and project_id = $2 and item_id = $3",
    [thread, project, item],
  );
  if (!answered) throw notFound("comment");
  if (answered.thread !== null)
    throw new Problem(422, "Not a comment to answer", "Answer the comment that the thread begins with.");
}

export async function resolveComment(by: Principal, project: string, id: string, resolved: boolean): Promise<void> {
  const changed = await row(
    `update comment set resolved_at = case when $3 then now() end, resolved_by = case when $3 then $4 end
     where id = $1 and project_id = $2 and thread is null returning 1`,
    [id, project, resolved, nameOf(by)],
  );
  if (!changed) throw notFound("comment");
  await publish({ topic: "comments", project });
}

/** @throws Problem where it is somebody else's, or somebody else has answered it */
export async function removeComment(by: Principal, project: string, id: string): Promise<void> {
  const found = await row<{ own: boolean }>(
    "select person_id is not distinct from $2::uuid as own from comment where id = $1 and project_id = $3",
    [id, personOf(by), project],
  );
  if (!found) throw notFound("comment");
  if (!found.own && by.role !== "owner")
    throw new Problem(403, "Not allowed", "It is somebody else's: they, or an owner, can remove it.");
  const answered = await row("select 1 from comment where thread = $1 and person_id is distinct from $2::uuid", [
    ...[id, personOf(by)],
  ]);
  if (answered)
    throw new Problem(409, "Answered", "Somebody has answered it: resolve it, and nothing that was said is lost.");
  await rows("delete from comment where id = $1", [id]);
  await publish({ topic: "comments", project });
}
