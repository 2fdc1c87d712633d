/**
 * Paths in the project document, by which edits are told apart: names of fields and ids of elements, joined by "/".
 * Two signs stand for what is not in the document by name: `*` for any element, `#id` for an element's being there,
 * `#order` for the order of a list. A chain entry's parameters stand below `settings`.
 */
export type Path = string;

/** What a command relies on, and what it changes. */
export interface Access {
  reads?: readonly Path[];
  writes: readonly Path[];
}

/** Whether one lies within the other. */
export function overlaps(a: Path, b: Path): boolean {
  const [one, other] = [a.split("/"), b.split("/")];
  const shared = Math.min(one.length, other.length);
  for (let n = 0; n < shared; n++) {
    const [x, y] = [one[n]!, other[n]!];
    const any = (x === "*" && !y.startsWith("#")) || (y === "*" && !x.startsWith("#"));
    if (x !== y && !any) return false;
  }
  return true;
}

/** Whether an edit on a stale state cannot be put on top of one that was made since: that changed what it is about. */
export const conflicts = (stale: Access, made: Access): boolean =>
  made.writes.some((written) => [...stale.writes, ...(stale.reads ?? [])].some((path) => overlaps(path, written)));

/** Of a command that is not known any more: it may have changed anything. */
export const EVERYTHING: Access = { writes: ["*"] };

export const itemPath = (item: string): Path => `items/${item}`;
export const referencePath = (reference: string): Path => `programme/references/${reference}`;
/** That an element is there. */
export const hasPath = (element: Path): Path => `${element}/#id`;
