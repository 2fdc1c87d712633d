import * as z from "zod";
import { hashSchema } from "@core/project/document";
import { layoutSchema } from "@core/audio/layout";
import { chooseLayout } from "@server/projects/sources";
import { body, route } from "../../../respond";

/** Sets which channel is which; the recording is measured again. */
export const PUT = route<{ hash: string }>(async (request, params) => {
  const { layout } = await body(request, z.strictObject({ layout: layoutSchema }));
  await chooseLayout(hashSchema.parse(params.hash), layout);
});
