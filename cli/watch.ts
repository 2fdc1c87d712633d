/** `resonum watch FOLDER`: does to whatever arrives what a recipe says, until it is stopped. */
import { stat } from "node:fs/promises";
import { resolve } from "node:path";
import { runBatch } from "./batch";
import { withFolder } from "./output-folder";
import { below } from "./files";
import { print } from "./outcome";
import type { RenderOptions } from "./render-options";
import type { RemoteOptions } from "./remote/studio";

interface WatchOptions extends RenderOptions, RemoteOptions {
  /** Ends when nothing more is there to be done. */
  once?: boolean;
  pollInterval?: string;
}

/** A file has arrived when its size and time stay the same from one look to the next. */
async function standOf(path: string): Promise<string> {
  const about = await stat(path).catch(() => undefined);
  return about ? `${about.size} ${about.mtimeMs}` : "";
}

/** Into a project of a studio, and its masters back. */
async function throughStudio(path: string, options: WatchOptions): Promise<object[]> {
  const { pushAndFetch } = await import("./remote/watch");
  return pushAndFetch(path, options);
}

export async function watchFolder(folder: string, options: WatchOptions): Promise<void> {
  const every = 1000 * Math.max(0.2, Number(options.pollInterval ?? 2) || 2);
  const out = resolve(options.out);
  const stop = new AbortController();
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => stop.abort());
  await withFolder(out, async () => {
    if (!options.json) print(`Watching ${folder}; masters go to ${options.out}. Ctrl-C ends it.`);
    const seen = new Map<string, string>();
    const done = new Map<string, string>();
    while (!stop.signal.aborted) {
      let waiting = 0;
      for (const path of await below(folder, out)) {
        const stand = await standOf(path);
        if (done.get(path) === stand) continue;
        if (seen.get(path) !== stand) {
          // It may still be growing.
          seen.set(path, stand);
          waiting++;
          continue;
        }
        done.set(path, stand);
        const outcomes =
          options.server === undefined ? await runBatch([path], options) : await throughStudio(path, options);
        // A line for each, as it comes.
        if (options.json) for (const outcome of outcomes) print(JSON.stringify(outcome));
      }
      if (options.once && waiting === 0) return;
      await new Promise((resume) => setTimeout(resume, every));
    }
  });
}
