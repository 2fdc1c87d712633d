/** JSON with keys in order and no spaces: equal things give equal text. */
export function canonicalJson(thing: unknown): string {
  if (Array.isArray(thing)) return `[${thing.map(canonicalJson).join(",")}]`;
  if (thing !== null && typeof thing === "object") {
    const entries = Object.entries(thing).filter(([, value]) => value !== undefined);
    entries.sort(([a], [b]) => (a < b ? -1 : 1));
    return `{${entries.map(([key, value]) => `${JSON.stringify(key)}:${canonicalJson(value)}`).join(",")}}`;
  }
  return JSON.stringify(thing);
}
