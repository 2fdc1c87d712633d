/**
 * A worker that is started again when its script could not be loaded, as happens while a server is renewed or a
 * connection drops: what was posted to it so far is posted again. Once it has answered, it is a worker like any other.
 */
export type WorkerLike = Pick<Worker, "onmessage" | "onerror" | "postMessage" | "terminate">;

const PAUSES_MS = [400, 1000, 2000, 4000, 8000];
/** What a script that did not come is called: by nothing, or by the loader of its parts. */
const NOT_LOADED = /^$|importScripts|NetworkError|dynamically imported|Failed to (fetch|load)/i;

export class PersistentWorker implements WorkerLike {
  onmessage: Worker["onmessage"] = null;
  onerror: Worker["onerror"] = null;
  #worker: WorkerLike;
  #posted: unknown[] = [];
  #tries = 0;
  #isAnswering = false;
  #waiting: ReturnType<typeof setTimeout> | undefined;

  constructor(readonly make: () => WorkerLike) {
    this.#worker = this.#started();
  }

  #started(): WorkerLike {
    const worker = this.make();
    worker.onmessage = (event: MessageEvent) => {
      this.#isAnswering = true;
      this.#posted = [];
      this.onmessage?.call(worker as Worker, event);
    };
    worker.onerror = (event: ErrorEvent) => {
      const pause = PAUSES_MS[this.#tries];
      if (this.#isAnswering || pause === undefined || !NOT_LOADED.test(event.message ?? ""))
        return void this.onerror?.call(worker as Worker, event);
      this.#tries++;
      worker.terminate();
      this.#waiting = setTimeout(() => this.#again(), pause);
    };
    return worker;
  }

  #again(): void {
    this.#worker = this.#started();
    for (const message of this.#posted) this.#worker.postMessage(message);
  }

  postMessage(message: unknown): void {
    if (!this.#isAnswering) this.#posted.push(message);
    this.#worker.postMessage(message);
  }

  terminate(): void {
    clearTimeout(this.#waiting);
    this.#posted = [];
    this.#worker.terminate();
  }
}
