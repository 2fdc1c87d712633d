import type { Readable } from "node:stream";

/**
 * A Node stream as a response's body, read only as fast as the client takes it. Node's own `Readable.toWeb` throws where
 * nobody catches when a client goes away.
 */
export function webStream(readable: Readable): ReadableStream<Uint8Array> {
  const chunks = readable[Symbol.asyncIterator]() as AsyncIterator<Uint8Array>;
  return new ReadableStream<Uint8Array>(
    {
      async pull(controller) {
        const next = await chunks.next();
        if (next.done) controller.close();
        else controller.enqueue(next.value);
      },
      cancel: () => void readable.destroy(),
    },
    { highWaterMark: 0 },
  );
}
