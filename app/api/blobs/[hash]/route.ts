import { hashSchema } from "@core/project/document";
import { blobResponse } from "@server/http/http-range";
import { route } from "../../respond";

const answer = route<{ hash: string }>(async (request, params) => blobResponse(hashSchema.parse(params.hash), request));

export { answer as GET, answer as HEAD };
