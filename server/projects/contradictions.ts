/** Edits of what others have changed since the state that they were made on: refused, and told to both. */
import { commandAccess, commandLabel, parseCommand, type Command } from "@core/project/commands";
import { conflicts } from "@core/project/paths";
import type { ContradictedEdit } from "@core/project/views";
import type pg from "pg";
import { rows } from "../db/database";
import { publish } from "../db/notifications";
import { Problem } from "../problem";
import { documentAt } from "./document-history";

export interface Edit {
  /** Given by whoever makes it: sent again, it is answered again and not made again. */
  id?: string;
  /** The state that the edit was made on; `null` for what the server itself adds, on whatever the head is. */
  base: number | null;
  command: { type: string } & Record<string, unknown>;
  author: string;
}

interface MadeEdit extends ContradictedEdit {
  command: Command;
}

/** Edits that led from `base` to `head`, or `undefined` when the one is not an ancestor of the other. */
async function editsBetween(client: pg.PoolClient, base: number, head: number): Promise<MadeEdit[] | undefined> {
  const path = await rows<Omit<MadeEdit, "command"> & { id: number; command: Command | null }>(
    // Parents are older: what is older than the base need not be looked at.
    `with recursive path as (
       select id, parent, command, label, author from project_state where id = $2
       union all select s.id, s.parent, s.command, s.label, s.author
       from project_state s join path on s.id = path.parent where path.id > $1)
     select id, command, label, author from path order by id`,
    [base, head],
    client,
  );
  if (!path.some(({ id }) => id === base)) return undefined;
  return path.flatMap(({ id, command, ...made }) => (id === base || !command ? [] : [{ ...made, command }]));
}

/** So many contradicted edits are named. */
const MOST_TOLD = 5;

/** An edit of something that others have changed since the state that it was made on. */
export class Contradiction extends Problem {
  constructor(
    head: number,
    readonly made: ContradictedEdit[],
    detail: string,
  ) {
    super(409, "Changed elsewhere", detail, { head, made });
  }
}

/** What was wanted, in words; its type where the state that it was made on does not have what it is about. */
async function labelOf(command: Edit["command"], base: number): Promise<string> {
  try {
    return commandLabel(parseCommand(command), await documentAt(base));
  } catch {
    return command.type;
  }
}

/** Tells whoever made what stands that somebody wanted it otherwise. */
export async function tellContradiction(
  project: string,
  { id, command, author, base }: Edit,
  { made }: Contradiction,
): Promise<void> {
  if (made.length === 0) return;
  const label = await labelOf(command, base!);
  const refused = { id: id ?? null, author, label: label.slice(0, 200), made };
  await publish({ topic: "contradiction", project, refused });
}

/** @throws Problem when something between `base` and `head` contradicts it, or the one does not lead to the other */
export async function refuseContradiction(
  client: pg.PoolClient,
  base: number,
  head: number,
  command: Command,
): Promise<void> {
  const between = await editsBetween(client, base, head);
  const access = commandAccess(command);
  const made = between?.filter((one) => conflicts(access, commandAccess(one.command)));
  if (made?.length === 0) return;
  throw new Contradiction(
    head,
    made?.slice(0, MOST_TOLD).map(({ label, author }) => ({ label: label.slice(0, 200), author })) ?? [],
    made
      ? "The same thing was changed in another window in the meantime. That change stands; look at it, then decide."
      : "Another window went to a different state of the project. Your change was not made; look, then decide.",
  );
}
