import { getMasterReport } from "@core/api/masters";
import { fileName } from "@core/project/file-name";
import { reportOfMaster } from "@server/delivery/documents";
import { attachment } from "@server/http/http-range";
import { ofMaster } from "@server/people/access";
import { masterOf } from "@server/rendering/masters";
import { heavyRoute } from "../../../respond";

export const GET = heavyRoute(
  getMasterReport,
  ofMaster("listen", "read"),
  async ({ params, query: { kind } }) => {
    const master = await masterOf(params.master);
    return new Response((await reportOfMaster(master, kind)) as BodyInit, {
      headers: {
        "Content-Type": kind === "html" ? "text/html; charset=utf-8" : "application/pdf",
        "Content-Disposition": attachment(`${fileName(master.inputs.tags.title)} - report.${kind}`),
      },
    });
  },
  "downloaded a report",
);
