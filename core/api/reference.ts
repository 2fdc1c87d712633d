/** The reference page of the API, as Markdown. */
import { ENDPOINTS } from "./index";

/** A table for each kind of endpoints. */
export function apiPage(): string {
  const tags = [...new Set(ENDPOINTS.map(({ tag }) => tag))];
  const sections = tags.map((tag) => {
    const rows = ENDPOINTS.filter((one) => one.tag === tag).map(
      ({ id, endpoint: { method, path, summary } }) => `| \`${id}\` | ${method} | \`${path}\` | ${summary} |`,
    );
    return `## ${tag[0]!.toUpperCase()}${tag.slice(1)}\n\n| name | method | address | what |\n| --- | --- | --- | --- |\n${rows.join("\n")}`;
  });
  return `# API

Made by \`npm run reference\` from \`core/api\`. A studio serves it as OpenAPI 3.1 at \`/api/openapi.json\` and as a page at
\`/reference\`. Errors are problem documents (RFC 9457). Recordings are uploaded by tus 1.0 at \`/api/uploads\`; signing out
and passkeys are answered by the accounts library at \`/api/auth\`.

${sections.join("\n\n")}
`;
}
