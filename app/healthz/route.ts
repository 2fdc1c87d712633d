import { checkOrigin } from "../api/origin";
import { problemOf } from "../api/problems";

/** Whether the process answers; what it stands on is not looked at. */
export function GET(request: Request): Response {
  try {
    checkOrigin(request);
    return Response.json({ ok: true }, { headers: { "Cache-Control": "no-store" } });
  } catch (error) {
    return problemOf(error);
  }
}
