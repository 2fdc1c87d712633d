import { afterAll, afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { ConvertRequest } from "@playback/convert.worker";

// Other tests of this worker may have loaded what is replaced here, and are not to find it.
vi.hoisted(() => vi.resetModules());
afterAll(() => void vi.resetModules());
afterEach(() => void vi.unstubAllGlobals());

const taken: { project: string; names: string[] }[] = [];
vi.mock("@ui/api/uploads", () => ({
  uploadFiles: (project: string, files: File[]) => {
    taken.push({ project, names: files.map(({ name }) => name) });
    return Promise.resolve();
  },
}));
const said = { toast: [] as string[], error: [] as string[] };
vi.mock("sonner", () => ({
  toast: Object.assign((words: string) => said.toast.push(words), { error: (words: string) => said.error.push(words) }),
}));

interface Asked {
  request: ConvertRequest;
  progress: (fraction: number) => void;
  done: () => void;
  failed: (why: string) => void;
}
const asked: Asked[] = [];
vi.mock("@ui/workers/ask-worker", () => ({
  askWorker: (
    _: unknown,
    request: ConvertRequest,
    { signal, onProgress }: { signal: AbortSignal; onProgress: (answer: { fraction: number }) => void },
  ) =>
    new Promise((resolve, reject) => {
      signal.addEventListener("abort", () => reject(new DOMException("", "AbortError")));
      asked.push({
        request,
        progress: (fraction) => onProgress({ fraction }),
        done: () => resolve({ file: new Blob(["x"]) }),
        failed: (why) => reject(new Error(why)),
      });
    }),
}));
vi.mock("@playback/persistent-worker", () => ({ PersistentWorker: class {} }));

const { convert, stopConversion, useConversions } = await import("./conversions");
const job = (name: string) => ({ name, request: { url: name } as ConvertRequest });
const batches = () => useConversions.getState().batches;
const asking = (count: number) => vi.waitFor(() => expect(asked).toHaveLength(count));

const held = new Set<string>();
beforeEach(() => {
  for (const list of [taken, said.toast, said.error, asked]) list.length = 0;
  vi.stubGlobal("window", {
    addEventListener: (type: string) => held.add(type),
    removeEventListener: (type: string) => held.delete(type),
  });
});

describe("recordings that are made in the background", () => {
  it("are made one after the other, told of by how far they are, and taken in by names that files can have", async () => {
    const all = convert("p", [job("Reed: left/right"), job("Reed, R")]);
    await asking(1);
    asked[0]!.progress(0.5);
    expect(batches()).toMatchObject([{ project: "p", fraction: 0.25 }]);
    expect(held.has("beforeunload")).toBe(true);
    asked[0]!.done();
    await asking(2);
    asked[1]!.done();
    await all;
    expect(taken.map(({ names }) => names[0])).toEqual(["Reed. left.right.wav", "Reed, R.wav"]);
    expect(said.toast).toEqual(["2 new recordings are taken in"]);
    expect(batches()).toEqual([]);
    expect(held.size).toBe(0);
  });

  it("wait for those before, and are stopped before they begin or while they are made", async () => {
    const first = convert("p", [job("one")]);
    const second = convert("p", [job("two")]);
    const third = convert("p", [job("three")]);
    await asking(1);
    expect(batches().map(({ fraction }) => fraction)).toEqual([0, null, null]);
    stopConversion(batches()[1]!.id);
    stopConversion(batches()[0]!.id);
    await asking(2);
    expect(asked[1]!.request.url).toBe("three");
    asked[1]!.done();
    await Promise.all([first, second, third]);
    expect(taken.map(({ names }) => names[0])).toEqual(["three.wav"]);
    expect(said.error).toEqual([]);
  });

  it("say what is wrong, and let the next go on", async () => {
    const first = convert("p", [job("one")]);
    const second = convert("q", [job("two")]);
    await asking(1);
    asked[0]!.failed("the disk is full");
    await first;
    expect(said.error).toEqual(["No recording was made"]);
    await asking(2);
    asked[1]!.done();
    await second;
    expect(taken).toEqual([{ project: "q", names: ["two.wav"] }]);
  });
});
