/** What a command is made of, and the finding of what it is about. */
import type * as z from "zod";
import type { Item, ProjectDocument } from "./document";
import type { Access } from "./paths";

/** Why a command could not be applied, in a sentence for the person who gave it. */
export class CommandProblem extends Error {
  override name = "CommandProblem";
}

export interface CommandDefinition<S extends z.ZodType = z.ZodType> {
  fields: S;
  /** Does the edit on a copy of the document. */
  apply(document: ProjectDocument, fields: z.infer<S>): void;
  /** The edit in words, for the history. */
  label(fields: z.infer<S>, before: ProjectDocument): string;
  /** What of the document it relies on and changes: where those overlap, two commands contradict each other. */
  access(fields: z.infer<S>): Access;
}

export const define = <S extends z.ZodType>(definition: CommandDefinition<S>) => definition;

export function find<T extends { id: string }>(list: T[], id: string, what: string): T {
  const found = list.find((one) => one.id === id);
  if (!found) throw new CommandProblem(`This ${what} is no longer in the project.`);
  return found;
}

export const itemIn = (document: ProjectDocument, id: string): Item => find(document.items, id, "item");

export function moved<T>(list: T[], from: number, to: number): void {
  const [one] = list.splice(from, 1);
  if (one !== undefined) list.splice(Math.min(to, list.length), 0, one);
}

export const nameOfItem = (document: ProjectDocument, id: string) =>
  document.items.find((one) => one.id === id)?.name ?? id;
