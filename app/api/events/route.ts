import { listen } from "@server/events";
import { route } from "../respond";

const KEEP_ALIVE_MS = 15_000;

/** Everything that happens, as server-sent events, until the page goes away. */
export const GET = route(async (request) => {
  const encoder = new TextEncoder();
  let stop = () => {};
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      let open = true;
      const send = (text: string) => {
        if (open) controller.enqueue(encoder.encode(text));
      };
      const unlisten = listen((event) => send(`data: ${JSON.stringify(event)}\n\n`));
      const timer = setInterval(() => send(": still here\n\n"), KEEP_ALIVE_MS);
      stop = () => {
        open = false;
        unlisten();
        clearInterval(timer);
      };
      request.signal.addEventListener("abort", () => stop());
      send(": hello\n\n");
    },
    cancel: () => stop(),
  });
  return new Response(stream, {
    headers: { "Content-Type": "text/event-stream", "Cache-Control": "no-cache, no-transform" },
  });
});
