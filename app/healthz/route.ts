import { checkOrigin, problemOf } from "../api/respond";

/** Whether the process answers; what it stands on is not looked at. */
export function GET(request: Request): Response {
  try {
    checkOrigin(request);
    return Response.json({ ok: true }, { headers: { "Cache-Control": "no-store" } });
  } catch (error) {
    return problemOf(error);
  }
}
