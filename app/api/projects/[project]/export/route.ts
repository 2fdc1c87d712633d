import { exportProject as endpoint } from "@core/api/projects";
import { attachment } from "@server/http/http-range";
import { inProject } from "@server/people/access";
import { exportProject } from "@server/projects/export-project";
import { route } from "../../../respond";

export const GET = route(
  endpoint,
  inProject("listen", "read"),
  async ({ params, query }) => {
    const { name, stream } = await exportProject(params.project, query.recordings !== "without");
    return new Response(stream, {
      headers: { "Content-Type": "application/zip", "Content-Disposition": attachment(name) },
    });
  },
  "exported a project",
);
