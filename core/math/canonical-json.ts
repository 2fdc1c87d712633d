/**
 * JSON with keys in order and no spaces: equal things give equal text.
 * @param kept texts of objects that many things share, written once
 */
export function canonicalJson(thing: unknown, kept?: WeakMap<object, string>): string {
  if (thing === null || typeof thing !== "object") return JSON.stringify(thing);
  const known = kept?.get(thing);
  if (known !== undefined) return known;
  if (Array.isArray(thing)) return `[${thing.map((one) => canonicalJson(one, kept)).join(",")}]`;
  const entries = Object.entries(thing).filter(([, value]) => value !== undefined);
  entries.sort(([a], [b]) => (a < b ? -1 : 1));
  return `{${entries.map(([key, value]) => `${JSON.stringify(key)}:${canonicalJson(value, kept)}`).join(",")}}`;
}
