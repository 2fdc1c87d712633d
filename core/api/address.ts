/** The address of a request, with its parameters and its query. */
export function addressOf(
  path: string,
  params: Record<string, string | number> = {},
  query: Record<string, string | number | undefined> = {},
): string {
  const filled = path.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(String(params[name])));
  const asked = new URLSearchParams();
  for (const [name, value] of Object.entries(query)) if (value !== undefined) asked.set(name, String(value));
  return asked.size > 0 ? `${filled}?${asked.toString()}` : filled;
}
