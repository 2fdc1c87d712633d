/** Edits that are on their way to the server, by project: one after the other, each on the state that the last led to. */
const lines = new Map<string, Promise<void>>();
/** How many there have been. */
const counts = new Map<string, number>();

export const editsOf = (project: string): number => counts.get(project) ?? 0;

/** Puts work at the end of a project's line. */
export function enqueue(project: string, work: () => Promise<void>): Promise<void> {
  const next = (lines.get(project) ?? Promise.resolve()).then(work);
  lines.set(project, next);
  counts.set(project, editsOf(project) + 1);
  return next;
}

/**
 * Resolves once no edit is on its way. A state fetched before that lacks what was just done, and would take it off the
 * screen again.
 */
export async function settled(project: string): Promise<void> {
  for (let last: Promise<void> | undefined; last !== lines.get(project);) {
    last = lines.get(project);
    await last;
  }
}

/**
 * A state of a project that holds all that was done to it here: one that was on its way while something was edited is
 * fetched again. Not to be waited for by work that stands in the project's line.
 */
export async function withAllEdits<T>(project: string, fetched: () => Promise<T>): Promise<T> {
  for (;;) {
    await settled(project);
    const before = editsOf(project);
    const state = await fetched();
    if (editsOf(project) === before) return state;
  }
}
