import * as z from "zod";
import { discardUpload, takeArrived } from "@server/ingest/uploads";
import { inProject } from "@server/people/access";
import { body, route, uuidParam } from "../../../respond";

/** Forgets an interrupted upload. */
export const DELETE = route<{ project: string }>(
  inProject("edit", "edit"),
  async (request, params) => {
    const { upload } = await body(request, z.strictObject({ upload: z.uuid() }));
    await discardUpload(uuidParam.parse(params.project), upload);
  },
  "discarded an upload",
);

/** Makes an item of what arrived of an upload. */
export const POST = route<{ project: string }>(
  inProject("edit", "edit"),
  async (request, params) => {
    const { upload } = await body(request, z.strictObject({ upload: z.uuid() }));
    await takeArrived(uuidParam.parse(params.project), upload);
  },
  "took in what had arrived",
);
