import { measure } from "@core/api/recordings";
import { measureUpload } from "@server/ingest/measure-upload";
import { inStudio } from "@server/people/access";
import { Problem } from "@server/problem";
import { heavyRoute } from "../respond";

export const POST = heavyRoute(measure, inStudio("guest", "read"), (_given, request) => {
  if (!request.body) throw new Problem(400, "Nothing arrived", "The request has no file in its body.");
  return measureUpload(request.body, Number(request.headers.get("content-length")), request.signal);
});
