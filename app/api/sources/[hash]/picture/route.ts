import { hashSchema } from "@core/project/document";
import { notFound } from "@server/problem";
import { blobResponse } from "@server/http/http-range";
import { sourceOf } from "@server/projects/sources";
import { pictureType } from "@server/media/video";
import { ofContent } from "@server/people/access";
import { route } from "../../../respond";

/** The recording as it came, where it has a picture: for showing that beside the sound. */
export const GET = route<{ hash: string }>(ofContent("listen", "read"), async (request, params) => {
  const source = await sourceOf(hashSchema.parse(params.hash));
  if (!source.container?.includes("picture")) throw notFound("picture");
  return blobResponse(source.hash, request, { "Content-Type": pictureType(source.name) });
});
