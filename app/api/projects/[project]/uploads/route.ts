import * as z from "zod";
import { discardUpload } from "@server/uploads";
import { body, route, uuidParam } from "../../../respond";

export const DELETE = route<{ project: string }>(async (request, params) => {
  const { upload } = await body(request, z.strictObject({ upload: z.uuid() }));
  await discardUpload(uuidParam.parse(params.project), upload);
});
