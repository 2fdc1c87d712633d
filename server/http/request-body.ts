/** Bodies of requests: limited while they arrive, and free of what no database keeps. */
import { formatBytes } from "@core/audio/format";
import { Problem } from "../problem";

/** All of a request's body. @throws Problem as soon as more than `maxBytes` are announced or have arrived */
export async function readBody(request: Request, maxBytes: number): Promise<Buffer> {
  const tooLarge = () =>
    new Problem(
      413,
      "Too large",
      `The request has more than ${formatBytes(maxBytes)}, which is the most that is taken.`,
    );
  if (Number(request.headers.get("content-length")) > maxBytes) throw tooLarge();
  const parts: Uint8Array[] = [];
  let bytes = 0;
  const reader = request.body?.getReader();
  for (;;) {
    const next = await reader?.read();
    if (!next || next.done) return Buffer.concat(parts);
    bytes += next.value.length;
    if (bytes > maxBytes) {
      void reader?.cancel().catch(() => undefined);
      throw tooLarge();
    }
    parts.push(next.value);
  }
}

/** NUL, and halves of surrogate pairs. */
const BROKEN = /[\u0000\p{Cs}]/u;

/** @throws Problem that says where text stands that no database keeps */
export function refuseBrokenText(given: unknown, path: readonly string[] = []): void {
  if (typeof given === "string") {
    if (!BROKEN.test(given)) return;
    const where = path.join(".") || "request";
    const what = "holds a sign that stands for no character (NUL, or half of a pair)";
    throw new Problem(400, "Not valid", `${where}: ${what}`, { errors: [{ where, what }] });
  }
  if (given === null || typeof given !== "object") return;
  for (const [field, value] of Object.entries(given)) {
    refuseBrokenText(field, [...path, "name of a field"]);
    refuseBrokenText(value, [...path, field]);
  }
}
