import { hashSchema } from "@core/project/document";
import { blobResponse } from "@server/http/http-range";
import { ofContent } from "@server/people/access";
import { route } from "../../respond";

const answer = route<{ hash: string }>(ofContent("listen", "read"), async (request, params) =>
  blobResponse(hashSchema.parse(params.hash), request),
);

/** Content by its hash, whole or in ranges. */
export const GET = answer;
/** How long it is. */
export const HEAD = answer;
