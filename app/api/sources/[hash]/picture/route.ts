import { getPicture } from "@core/api/recordings";
import { blobResponse } from "@server/http/http-range";
import { pictureType } from "@server/media/video";
import { ofContent } from "@server/people/access";
import { notFound } from "@server/problem";
import { sourceOf } from "@server/projects/sources";
import { route } from "../../../respond";

export const GET = route(getPicture, ofContent("listen", "read"), async ({ params }, request) => {
  const source = await sourceOf(params.hash);
  if (!source.container?.includes("picture")) throw notFound("picture");
  return blobResponse(source.hash, request, { "Content-Type": pictureType(source.name) });
});
