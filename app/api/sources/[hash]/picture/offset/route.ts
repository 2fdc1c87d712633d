import { getPictureOffset } from "@core/api/recordings";
import { blobs } from "@server/storage/blobs";
import { trackOffset } from "@server/media/video";
import { ofContent } from "@server/people/access";
import { sourceOf } from "@server/projects/sources";
import { route } from "../../../../respond";

export const GET = route(getPictureOffset, ofContent("listen", "read"), async ({ params }) => {
  const { hash } = await sourceOf(params.hash);
  return { offsetSeconds: await trackOffset(await blobs.fileOf(hash)) };
});
