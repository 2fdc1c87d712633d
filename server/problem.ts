/** What was wrong, for the person who asked: becomes a problem document (RFC 9457) at the boundary. */
export class Problem extends Error {
  override name = "Problem";

  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    /** More members of the problem document. */
    readonly more: Record<string, unknown> = {},
    readonly headers: Record<string, string> = {},
  ) {
    super(detail);
  }
}

export const notFound = (what: string): Problem =>
  new Problem(404, "Not found", `There is no such ${what}. It may belong to another data folder.`);
