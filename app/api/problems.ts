/** What went wrong, as problem documents (RFC 9457). */
import * as z from "zod";
import { CommandProblem } from "@core/project/commands";
import { databaseTrouble } from "@server/db/database";
import { log } from "@server/log";
import { Problem } from "@server/problem";

function problemResponse(
  status: number,
  title: string,
  detail: string,
  more: object = {},
  headers: Record<string, string> = {},
): Response {
  return new Response(JSON.stringify({ type: "about:blank", title, status, detail, ...more }), {
    status,
    headers: { "Content-Type": "application/problem+json", ...headers },
  });
}

export function problemOf(error: unknown): Response {
  if (error instanceof Problem)
    return problemResponse(error.status, error.title, error.detail, error.more, error.headers);
  if (error instanceof CommandProblem) return problemResponse(422, "Cannot be done", error.message);
  if (error instanceof z.ZodError) {
    const errors = error.issues.map(({ path, message }) => ({ where: path.join("."), what: message }));
    return problemResponse(
      400,
      "Not valid",
      errors.map(({ where, what }) => `${where || "request"}: ${what}`).join("; "),
      { errors },
    );
  }
  if (error instanceof URIError)
    return problemResponse(400, "Not valid", "The address holds signs that stand for no character.");
  const trouble = databaseTrouble(error);
  if (trouble)
    return problemResponse(503, trouble.title, trouble.detail, {}, { "Retry-After": String(trouble.seconds) });
  log.error({ error: error instanceof Error ? error.message : String(error) }, "request failed");
  return problemResponse(
    500,
    "Failed",
    "Something failed on the server; its log says what. Nothing that was saved is lost.",
  );
}
