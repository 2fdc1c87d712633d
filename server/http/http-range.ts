import type { OpenFile } from "../storage/byte-files";
import { blobs } from "../storage/blobs";
import { notFound, Problem } from "../problem";

const CHUNK = 1024 * 1024;
/** Larger files are verified while they go out: a download that meets damage breaks off and does not end well. */
const VERIFIED_FIRST_BYTES = 1 << 30;

function parseRange(header: string | null, size: number): { start: number; end: number } | undefined {
  const match = /^bytes=(\d*)-(\d*)$/.exec(header ?? "");
  if (!match || (match[1] === "" && match[2] === "")) return undefined;
  const start = match[1] === "" ? Math.max(0, size - Number(match[2])) : Number(match[1]);
  const end = match[1] === "" || match[2] === "" ? size - 1 : Math.min(size - 1, Number(match[2]));
  if (start > end) throw new Problem(416, "No such range", `The file has ${size} bytes.`);
  return { start, end };
}

/** The file is opened when it is first read from: a client that is gone by then leaves nothing open. */
function streamOf(
  open: () => Promise<OpenFile>,
  start: number,
  end: number,
  gone: AbortSignal,
): ReadableStream<Uint8Array> {
  let file: OpenFile | undefined;
  let at = start;
  let closed = gone.aborted;
  const close = async () => {
    if (closed) return;
    closed = true;
    await file?.close();
  };
  // A client that goes away is seen by the signal or by `cancel`, whichever comes.
  gone.addEventListener("abort", () => void close());
  return new ReadableStream(
    {
      async pull(controller) {
        if (closed) return;
        if (!file) {
          file = await open();
          if (closed) return file.close(); // gone while it was being opened
        }
        let bytes = new Uint8Array(0);
        try {
          if (at <= end) bytes = (await file.read(at, Math.min(CHUNK, end - at + 1))) as Uint8Array<ArrayBuffer>;
        } catch (error) {
          await close();
          throw error; // the client hears that it is no whole file
        }
        at += bytes.length;
        if (bytes.length > 0) controller.enqueue(bytes);
        if (bytes.length === 0 || at > end) {
          await close();
          controller.close();
        }
      },
      cancel: close,
    },
    { highWaterMark: 0 },
  );
}

/** A blob or a byte range of it. Its name is its content, so it may be kept for ever. */
export async function blobResponse(
  hash: string,
  request: Request,
  headers: Record<string, string> = {},
): Promise<Response> {
  const size = await blobs.size(hash);
  if (size === undefined) throw notFound("file");
  const range = parseRange(request.headers.get("range"), size);
  const { start, end } = range ?? { start: 0, end: size - 1 };
  const all = {
    "Content-Type": "application/octet-stream",
    "Accept-Ranges": "bytes",
    "Cache-Control": "private, max-age=31536000, immutable",
    "Content-Length": String(end - start + 1),
    ...(range ? { "Content-Range": `bytes ${start}-${end}/${size}` } : {}),
    ...headers,
  };
  const status = range ? 206 : 200;
  // A whole file is verified before a byte of it goes out, a part of it as it is read.
  if (!range && request.method !== "HEAD" && size <= VERIFIED_FIRST_BYTES) await blobs.fileOf(hash);
  if (request.method === "HEAD") return new Response(null, { status, headers: { ...all, "X-Size": String(size) } });
  return new Response(
    streamOf(() => blobs.open(hash), start, end, request.signal),
    { status, headers: all },
  );
}

/** Content-Disposition for a download under any name (RFC 6266). */
export function attachment(given: string): string {
  const name = given.replace(/\p{Cs}/gu, "_"); // half of a pair cannot be said in a header
  const plain = name.replace(/[^\x20-\x7e]|["\\]/g, "_");
  return `attachment; filename="${plain}"; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`)}`;
}
