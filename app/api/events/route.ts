import { subscribe } from "@server/db/notifications";
import { Problem } from "@server/problem";
import { route } from "../respond";

const KEEP_ALIVE_MS = 15_000;
const MOST_STREAMS = 200;
/** A page that is so many events behind is let go: it connects again, and fetches what it missed. */
const MOST_BEHIND = 256;

const holder = globalThis as typeof globalThis & { resonumStreams?: { open: number } };
const streams = (holder.resonumStreams ??= { open: 0 });

/** Everything that happens, as server-sent events, until the page goes away. */
export const GET = route(async (request) => {
  if (streams.open >= MOST_STREAMS)
    throw new Problem(503, "Busy", "Too many pages are open on this server.", {}, { "Retry-After": "10" });
  const encoder = new TextEncoder();
  let stop = () => {};
  const stream = new ReadableStream<Uint8Array>(
    {
      start(controller) {
        let open = true;
        streams.open++;
        const send = (text: string) => {
          if (!open) return;
          if ((controller.desiredSize ?? 0) <= -MOST_BEHIND) {
            stop();
            controller.error(new Error("too far behind"));
          } else controller.enqueue(encoder.encode(text));
        };
        const unlisten = subscribe((event) => send(`data: ${JSON.stringify(event)}\n\n`));
        const timer = setInterval(() => send(": still here\n\n"), KEEP_ALIVE_MS);
        stop = () => {
          if (!open) return;
          open = false;
          streams.open--;
          unlisten();
          clearInterval(timer);
        };
        request.signal.addEventListener("abort", () => stop());
        if (request.signal.aborted) stop();
        send(": hello\n\n");
      },
      cancel: () => stop(),
    },
    { highWaterMark: 1 },
  );
  return new Response(stream, {
    headers: { "Content-Type": "text/event-stream", "Cache-Control": "no-cache, no-transform" },
  });
});
