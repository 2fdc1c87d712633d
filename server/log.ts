import { AsyncLocalStorage } from "node:async_hooks";
import pino from "pino";

/** One a process, kept on the global object: each route is a bundle of its own. */
const holder = globalThis as typeof globalThis & { resonumRequests?: AsyncLocalStorage<string> };
const requests = (holder.resonumRequests ??= new AsyncLocalStorage<string>());

/** Does what a request asks for: every line that is written meanwhile says its id. */
export const onBehalfOf = <Result>(request: string, work: () => Promise<Result>): Promise<Result> =>
  requests.run(request, work);

/** One line an event, on standard error; no audio and no names of people in it. */
export const log = pino(
  {
    level: process.env.RESONUM_LOG ?? "info",
    base: { pid: process.pid },
    mixin() {
      const request = requests.getStore();
      return request ? { request } : {};
    },
  },
  pino.destination({ dest: 2, sync: true }),
);
