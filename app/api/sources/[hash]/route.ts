import { hashSchema } from "@core/project/document";
import { attachment, blobResponse } from "@server/http/http-range";
import { sourceOf } from "@server/projects/sources";
import { ofContent } from "@server/people/access";
import { route } from "../../respond";

/** The original, byte for byte. */
export const GET = route<{ hash: string }>(
  ofContent("listen", "read"),
  async (request, params) => {
    const source = await sourceOf(hashSchema.parse(params.hash));
    return blobResponse(source.hash, request, { "Content-Disposition": attachment(source.name) });
  },
  "downloaded an original",
);
