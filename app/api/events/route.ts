import { listenToEvents } from "@core/api/operations";
import { subscribe } from "@server/db/notifications";
import { Problem } from "@server/problem";
import { inStudio } from "@server/people/access";
import { EventFilter } from "@server/people/event-filter";
import { principalOf } from "@server/people/identify";
import { principal } from "@server/people/principal";
import { log } from "@server/log";
import { streamingRoute } from "../respond";

const KEEP_ALIVE_MS = 15_000;
const MOST_STREAMS = 200;
/** A page that is so many events behind is let go: it connects again, and fetches what it missed. */
const MOST_BEHIND = 256;

/** Whoever was signed out or suspended is told nothing more; while the database is away nothing is known, and nothing told. */
const isSignedIn = (request: Request): Promise<boolean> =>
  principalOf(request).then(
    (found) => found !== null,
    () => true,
  );

const holder = globalThis as typeof globalThis & { resonumStreams?: { open: number } };
const streams = (holder.resonumStreams ??= { open: 0 });

/** What happens to what whoever asks may see, as server-sent events, until the page goes away or they are signed out. */
export const GET = streamingRoute(listenToEvents, inStudio("guest", "read"), async (_given, request) => {
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
        const filter = new EventFilter(principal());
        const end = () => {
          if (open) controller.close();
          stop();
        };
        // One after the other, as they happened.
        let told = Promise.resolve();
        const unlisten = subscribe((event) => {
          told = told
            .then(async () => {
              if (event.topic === "people" && !(await isSignedIn(request))) return end();
              if (await filter.admits(event)) send(`data: ${JSON.stringify(event)}\n\n`);
            })
            .catch((error: Error) => log.warn({ error: error.message }, "an event was not told"));
        });
        const timer = setInterval(() => {
          send(": still here\n\n");
          void isSignedIn(request).then((still) => still || end());
        }, KEEP_ALIVE_MS);
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
