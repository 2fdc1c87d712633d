/** Edits that are on their way to the server, by project: one after the other, each on the state that the last led to. */
const lines = new Map<string, Promise<void>>();

/** Puts work at the end of a project's line. */
export function enqueue(project: string, work: () => Promise<void>): Promise<void> {
  const next = (lines.get(project) ?? Promise.resolve()).then(work);
  lines.set(project, next);
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
