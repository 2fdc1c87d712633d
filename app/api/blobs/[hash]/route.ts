import { getBlob } from "@core/api/recordings";
import { blobResponse } from "@server/http/http-range";
import { ofContent } from "@server/people/access";
import { route } from "../../respond";

const answer = route(getBlob, ofContent("listen", "read"), ({ params }, request) => blobResponse(params.hash, request));
export const GET = answer;
export const HEAD = answer;
