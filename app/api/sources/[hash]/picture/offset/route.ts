import { hashSchema } from "@core/project/document";
import { blobs } from "@server/storage/blobs";
import { sourceOf } from "@server/projects/sources";
import { trackOffset } from "@server/media/video";
import { ofContent } from "@server/people/access";
import { route } from "../../../../respond";

/** How long after the picture the sound begins. */
export const GET = route<{ hash: string }>(ofContent("listen", "read"), async (_request, params) => {
  const { hash } = await sourceOf(hashSchema.parse(params.hash));
  return { offsetSeconds: await trackOffset(await blobs.fileOf(hash)) };
});
