import type { RepairStep } from "@core/repair";

/** Changes fields of a repair step; `what` says in the history what was done. */
export type ChangeStep = (next: Partial<RepairStep>, what: string) => void;

/** The fields as a command carries them: JSON has no undefined, so `null` takes a field away. */
export const fieldChanges = (next: Partial<RepairStep>): Record<string, unknown> =>
  Object.fromEntries(Object.entries(next).map(([field, setting]) => [field, setting ?? null]));
