import { measureUpload } from "@server/ingest/measure-upload";
import { Problem } from "@server/problem";
import { inStudio } from "@server/people/access";
import { heavyRoute } from "../respond";

/** Measures the file in the body, and keeps nothing of it. */
export const POST = heavyRoute(inStudio("guest", "read"), async (request) => {
  if (!request.body) throw new Problem(400, "Nothing arrived", "The request has no file in its body.");
  return measureUpload(request.body, Number(request.headers.get("content-length")), request.signal);
});
