/**
 * The outbox: edits that the server has not answered yet, kept in the browser until it has. An edit has an id that the
 * server knows again, so that it can be sent as often as it takes: across lost connections, reloads and restarts.
 */
import { openDB, type IDBPDatabase } from "idb";
import type { Command } from "@core/project/commands";
import { ApiProblem } from "./api";

export type HeadMove = { to: "undo" } | { to: "redo" } | { to: "state"; state: number };

export interface PendingEdit {
  id: string;
  project: string;
  /** The page that made it: while that is open, no other sends it. */
  page: string;
  /** The state that it was made on. */
  base: number;
  change: { command: Command } | { move: HeadMove };
}

/** What the server answers to an edit. */
export interface EditAnswer {
  head: number;
  rebased?: boolean;
}

/** Where edits wait, in the order in which they were made. */
export interface Outbox {
  add(edit: PendingEdit): Promise<void>;
  remove(id: string): Promise<void>;
  of(project: string): Promise<PendingEdit[]>;
}

const STORE = "edits";
let database: Promise<IDBPDatabase> | undefined;

const opened = (): Promise<IDBPDatabase> =>
  (database ??= openDB("resonum", 1, {
    upgrade(db) {
      const store = db.createObjectStore(STORE, { autoIncrement: true });
      store.createIndex("project", "project");
      store.createIndex("id", "id", { unique: true });
    },
    terminated: () => (database = undefined),
  }));

/** In IndexedDB. @throws where the browser has none, or it is full */
export const browserOutbox: Outbox = {
  async add(edit) {
    await (await opened()).add(STORE, edit);
  },
  async remove(id) {
    const db = await opened();
    const key = await db.getKeyFromIndex(STORE, "id", id);
    if (key !== undefined) await db.delete(STORE, key);
  },
  async of(project) {
    return (await opened()).getAllFromIndex(STORE, "project", project) as Promise<PendingEdit[]>;
  },
};

/** Answers after which the same edit may well be taken later. */
const TRIED_AGAIN = [0, 401, 408, 429, 502, 503, 504, 507];
/** A failure of the server's own may pass, too; where it does not, the edit is given up. */
const FAILURES = 6;
const FIRST_PAUSE_MS = 400;
const LONGEST_PAUSE_MS = 8000;

export interface Sender {
  post(edit: PendingEdit): Promise<EditAnswer>;
  pause(milliseconds: number): Promise<void>;
  /** Told why it was not taken yet, and with `null` once it is. */
  waiting(why: string | null): void;
}

/** Sends an edit until it is answered. @throws ApiProblem where it is refused */
export async function sendUntilAnswered(edit: PendingEdit, { post, pause, waiting }: Sender): Promise<EditAnswer> {
  for (let tries = 1; ; tries++) {
    try {
      const answer = await post(edit);
      waiting(null);
      return answer;
    } catch (error) {
      const passes =
        error instanceof ApiProblem &&
        (TRIED_AGAIN.includes(error.status) || (error.status === 500 && tries < FAILURES));
      if (!passes) {
        waiting(null);
        throw error;
      }
      waiting(error.message);
      await pause(Math.min(LONGEST_PAUSE_MS, FIRST_PAUSE_MS * 2 ** (tries - 1)));
    }
  }
}

/** Which pages are open; a page that is gone has left what it had not sent. */
const lockOf = (page: string) => `resonum page ${page}`;
let page: string | undefined;

/** This page's name, known to the others as long as it is open. */
export function pageId(): string {
  if (page === undefined) {
    page = crypto.randomUUID();
    void navigator.locks.request(lockOf(page), () => new Promise(() => undefined));
  }
  return page;
}

/** Edits that were left behind by pages that are gone. */
export async function editsOfClosedPages(outbox: Outbox, project: string): Promise<PendingEdit[]> {
  const waiting = await outbox.of(project);
  if (waiting.length === 0) return [];
  const { held = [] } = await navigator.locks.query();
  const open = new Set(held.map(({ name }) => name));
  return waiting.filter((edit) => edit.page !== page && !open.has(lockOf(edit.page)));
}
