import { checkOrigin, problemResponse } from "../api/respond";

/** Whether the process answers; what it stands on is not looked at. */
export function GET(request: Request): Response {
  try {
    checkOrigin(request);
  } catch {
    return problemResponse(421, "Wrong host", "Resonum answers on this machine's loopback address only.");
  }
  return Response.json({ ok: true }, { headers: { "Cache-Control": "no-store" } });
}
