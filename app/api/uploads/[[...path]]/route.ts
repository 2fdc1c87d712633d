import { whenReady } from "@server/ingest/startup";
import { uploadServer } from "@server/ingest/uploads";
import { checkOrigin, problemResponse } from "../../respond";
import { Problem } from "@server/problem";

async function handle(request: Request): Promise<Response> {
  try {
    checkOrigin(request);
    await whenReady();
  } catch (error) {
    if (error instanceof Problem) return problemResponse(error.status, error.title, error.detail);
    return problemResponse(503, "Database gone", "The database does not answer; the upload goes on once it is back.");
  }
  return uploadServer().handleWeb(request);
}

export { handle as POST, handle as PATCH, handle as HEAD, handle as DELETE, handle as OPTIONS, handle as GET };
