import pino from "pino";

/** One line an event, on standard error; no audio and no names of people in it. */
export const log = pino(
  { level: process.env.RESONUM_LOG ?? "info", base: { pid: process.pid } },
  pino.destination({ dest: 2, sync: true }),
);
