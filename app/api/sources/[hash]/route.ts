import { getRecording } from "@core/api/recordings";
import { attachment, blobResponse } from "@server/http/http-range";
import { ofContent } from "@server/people/access";
import { sourceOf } from "@server/projects/sources";
import { route } from "../../respond";

export const GET = route(
  getRecording,
  ofContent("listen", "read"),
  async ({ params }, request) => {
    const source = await sourceOf(params.hash);
    return blobResponse(source.hash, request, { "Content-Disposition": attachment(source.name) });
  },
  "downloaded an original",
);
