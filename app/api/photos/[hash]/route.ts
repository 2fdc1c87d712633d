import { hashSchema } from "@core/project/document";
import { imageMediaType } from "@server/ingest/photos";
import { blobResponse } from "@server/http/http-range";
import { ofContent } from "@server/people/access";
import { route } from "../../respond";

/** A picture, by its content. */
export const GET = route<{ hash: string }>(ofContent("listen", "read"), async (request, params) => {
  const hash = hashSchema.parse(params.hash);
  return blobResponse(hash, request, {
    "Content-Type": await imageMediaType(hash),
    "X-Content-Type-Options": "nosniff",
  });
});
