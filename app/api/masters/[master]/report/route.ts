import * as z from "zod";
import { fileName } from "@core/project/file-name";
import { masterOf } from "@server/rendering/masters";
import { reportOfMaster } from "@server/delivery/documents";
import { attachment } from "@server/http/http-range";
import { ofMaster } from "@server/people/access";
import { heavyRoute, uuidParam } from "../../../respond";

const kinds = z.enum(["html", "pdf"]);

/** The check report of a finished master: `?kind=html` or `pdf`. */
export const GET = heavyRoute<{ master: string }>(
  ofMaster("listen", "read"),
  async (request, params) => {
    const master = await masterOf(uuidParam.parse(params.master));
    const kind = kinds.parse(new URL(request.url).searchParams.get("kind") ?? "html");
    return new Response((await reportOfMaster(master, kind)) as BodyInit, {
      headers: {
        "Content-Type": kind === "html" ? "text/html; charset=utf-8" : "application/pdf",
        "Content-Disposition": attachment(`${fileName(master.inputs.tags.title)} - report.${kind}`),
      },
    });
  },
  "downloaded a report",
);
