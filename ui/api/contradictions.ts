/** Edits that were not made because somebody else had changed the same, until whoever made them has chosen. */
import { toast } from "sonner";
import { create } from "zustand";
import * as z from "zod";
import type { Command } from "@core/project/commands";
import type { ContradictedEdit, RefusedEdit } from "@core/project/views";
import { ApiProblem } from "./api";

export interface Contradiction {
  project: string;
  /** What was wanted here. */
  command: Command;
  /** What others made instead. */
  made: ContradictedEdit[];
  /** The state in which both were wanted: until the page has a later one, it does not show theirs. */
  before: number;
}

export const useContradictions = create<{ unsettled: Contradiction[] }>(() => ({ unsettled: [] }));

export const settleContradiction = (settled: Contradiction): void =>
  useContradictions.setState(({ unsettled }) => ({ unsettled: unsettled.filter((one) => one !== settled) }));

const moreSchema = z.object({ made: z.array(z.object({ label: z.string(), author: z.string() })).min(1) });

/** @returns whether it was refused because it contradicts others' edits, and is kept for whoever made it to choose */
export function keepContradiction(error: unknown, project: string, command: Command, before: number): boolean {
  if (!(error instanceof ApiProblem) || error.status !== 409) return false;
  const read = moreSchema.safeParse(error.more);
  if (!read.success) return false;
  const { made } = read.data;
  useContradictions.setState(({ unsettled }) => ({ unsettled: [...unsettled, { project, command, made, before }] }));
  return true;
}

/** Edits that this page has made: what is told of them is for the others. */
const own = new Set<string>();
export const rememberOwnEdit = (id: string): void => void own.add(id);

/** Tells whoever has a project open that what stands in it was wanted otherwise by somebody else. */
export function tellRefusedEdit({ id, author, label, made }: RefusedEdit): void {
  if (id !== null && own.has(id)) return;
  const [first] = made;
  toast(`${author} changed the same at the same time: ${label}`, {
    description: `“${first!.label}” (${first!.author}) stands until they have chosen.`,
  });
}
