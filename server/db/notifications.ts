/** What happens, told to every process and from there to every open page: PostgreSQL's LISTEN and NOTIFY. */
import pg from "pg";
import type { Progress, ServerEvent } from "@core/project/views";
import { config } from "../config";
import { pool, type Queryable } from "./database";
import { log } from "../log";

const CHANNEL = "resonum";

export async function publish(event: ServerEvent, on: Queryable = pool()): Promise<void> {
  await on.query("select pg_notify($1, $2)", [CHANNEL, JSON.stringify(event)]);
}

type Listener = (event: ServerEvent) => void;
const holder = globalThis as typeof globalThis & { resonumListeners?: Set<Listener> };

/** Calls `listener` for every event until the returned function is called. One database connection a process. */
export function subscribe(listener: Listener): () => void {
  if (!holder.resonumListeners) {
    holder.resonumListeners = new Set();
    void connect(holder.resonumListeners);
  }
  const listeners = holder.resonumListeners;
  listeners.add(listener);
  return () => void listeners.delete(listener);
}

const RECONNECT_MS = 1000;

async function connect(listeners: Set<Listener>): Promise<void> {
  const client = new pg.Client({ connectionString: config.databaseUrl });
  let again = false;
  const reconnect = (error?: Error) => {
    if (again) return;
    again = true;
    log.warn({ error: error?.message }, "lost the event connection; connecting again");
    setTimeout(() => void connect(listeners), RECONNECT_MS);
  };
  client.on("error", reconnect);
  client.on("end", () => reconnect());
  client.on("notification", ({ payload }) => {
    if (!payload) return;
    const event = JSON.parse(payload) as ServerEvent; // written by `tell` alone
    for (const listener of listeners) listener(event);
  });
  try {
    await client.connect();
    await client.query(`listen ${CHANNEL}`);
  } catch (error) {
    reconnect(error as Error);
  }
}

/** Tells progress at most a few times a second, with the time left as the pace so far suggests. */
export class ProgressPublisher {
  #start = Date.now();
  #last = 0;
  #stage = "";

  constructor(readonly send: (progress: Progress) => void) {}

  /** @param more what else is told, worked out only when it is */
  tell(stage: string, fraction: number, more: () => Partial<Progress> = () => ({})): void {
    const now = Date.now();
    if (stage !== this.#stage) {
      this.#stage = stage;
      this.#start = now;
      this.#last = 0;
    }
    if (now - this.#last < 250) return;
    this.#last = now;
    const elapsed = (now - this.#start) / 1000;
    const secondsLeft = fraction > 0.02 && elapsed > 0.5 ? Math.ceil((elapsed * (1 - fraction)) / fraction) : null;
    this.send({ stage, fraction, secondsLeft, ...more() });
  }
}
