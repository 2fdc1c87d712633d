import { getPhoto } from "@core/api/recordings";
import { blobResponse } from "@server/http/http-range";
import { imageMediaType } from "@server/ingest/photos";
import { ofContent } from "@server/people/access";
import { route } from "../../respond";

export const GET = route(getPhoto, ofContent("listen", "read"), async ({ params: { hash } }, request) =>
  blobResponse(hash, request, { "Content-Type": await imageMediaType(hash), "X-Content-Type-Options": "nosniff" }),
);
