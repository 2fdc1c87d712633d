import * as z from "zod";
import { edit } from "@server/projects";
import { body, route, uuidParam } from "../../../respond";

const edition = z.strictObject({ base: z.number().int(), command: z.looseObject({ type: z.string() }) });

export const POST = route<{ project: string }>(async (request, params) =>
  edit(uuidParam.parse(params.project), { ...(await body(request, edition)), author: "studio" }),
);
