import { hashSchema } from "@core/project/document";
import { attachment, blobResponse } from "@server/http/http-range";
import { sourceOf } from "@server/projects/sources";
import { route } from "../../respond";

/** The original, byte for byte. */
export const GET = route<{ hash: string }>(async (request, params) => {
  const source = await sourceOf(hashSchema.parse(params.hash));
  return blobResponse(source.hash, request, { "Content-Disposition": attachment(source.name) });
});
