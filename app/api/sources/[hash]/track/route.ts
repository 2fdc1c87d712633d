import * as z from "zod";
import { hashSchema } from "@core/project/document";
import { chooseTrack } from "@server/projects/sources";
import { ofContent } from "@server/people/access";
import { body, route } from "../../../respond";

/** Chooses one of a file's sound tracks, from 0; the recording is read again. */
export const PUT = route<{ hash: string }>(
  ofContent("edit", "edit"),
  async (request, params) => {
    const { track } = await body(request, z.strictObject({ track: z.number().int().min(0).max(99) }));
    await chooseTrack(hashSchema.parse(params.hash), track);
  },
  "chose the sound track of a file",
);
