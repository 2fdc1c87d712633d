import * as z from "zod";
import { hashSchema } from "@core/project/document";
import { layoutSchema } from "@core/audio/layout";
import { chooseLayout } from "@server/projects/sources";
import { ofContent } from "@server/people/access";
import { body, route } from "../../../respond";

/** Sets which channel is which; the recording is measured again. */
export const PUT = route<{ hash: string }>(
  ofContent("edit", "edit"),
  async (request, params) => {
    const { layout } = await body(request, z.strictObject({ layout: layoutSchema }));
    await chooseLayout(hashSchema.parse(params.hash), layout);
  },
  "chose the layout of a recording",
);
