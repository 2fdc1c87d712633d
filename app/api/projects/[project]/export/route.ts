import * as z from "zod";
import { attachment } from "@server/http/http-range";
import { exportProject } from "@server/projects/export-project";
import { inProject } from "@server/people/access";
import { route, uuidParam } from "../../../respond";

const withRecordings = z.enum(["with", "without"]).nullable();

/** The whole project as one file; `?recordings=without` leaves the recordings out. */
export const GET = route<{ project: string }>(
  inProject("listen", "read"),
  async (request, params) => {
    const wanted = withRecordings.parse(new URL(request.url).searchParams.get("recordings"));
    const { name, stream } = await exportProject(uuidParam.parse(params.project), wanted !== "without");
    return new Response(stream, {
      headers: { "Content-Type": "application/zip", "Content-Disposition": attachment(name) },
    });
  },
  "exported a project",
);
