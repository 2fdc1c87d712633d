/** Batches: what is done is not done again, what is killed goes on, and no master takes another one's place. */
import { spawn } from "node:child_process";
import { mkdir, mkdtemp, readdir, readFile, rm, stat, utimes, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { layoutNamed } from "@core/audio/layout";
import { MemorySink } from "@core/files/bytes";
import { WavWriter } from "@core/files/wav-writer";
import { noise } from "@core/testing/signals";
import { processMark } from "@server/storage/process-mark";
import { runBatch } from "./batch";
import { below, filesIn } from "./files";
import { withFolder } from "./output-folder";
import { checked, readJson, recipeOf, specFrom } from "./recipes";
import { watchFolder } from "./watch";
import { recipeSchema } from "@core/delivery/recipe";

let folder: string;
let masters: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), "resonum-batch-"));
  masters = join(folder, "masters");
  await mkdir(masters);
  vi.spyOn(process.stdout, "write").mockImplementation(() => true);
});
afterEach(async () => {
  vi.restoreAllMocks();
  await rm(folder, { recursive: true, force: true });
});

async function recording(path: string, seed = 1, seconds = 1): Promise<string> {
  const sink = new MemorySink();
  const writer = await WavWriter.open(sink, { sampleRate: 48_000, layout: layoutNamed("mono")!, format: "24" });
  await writer.writeFloat([noise(seconds, 48_000, -20, seed)], seconds * 48_000);
  await writer.finish();
  const full = join(folder, path);
  await mkdir(join(full, ".."), { recursive: true });
  await writeFile(full, sink.bytes());
  return full;
}
const batch = (inputs: string[], more: object = {}) => runBatch(inputs, { out: masters, json: true, ...more });
const names = async () => (await readdir(masters)).filter((name) => name.endsWith(".wav")).sort();
const states = (outcomes: { state: string }[]) => outcomes.map(({ state }) => state);

describe("a batch", () => {
  it("does each file once, and nothing again that has not changed", async () => {
    const files = [await recording("a.wav", 1), await recording("b.wav", 2)];
    expect(states(await batch(files))).toEqual(["done", "done"]);
    expect(await names()).toEqual(["a.wav", "b.wav"]);
    expect(states(await batch(files))).toEqual(["skipped", "skipped"]);
  });

  it("does again what is another recipe, another sound, damaged, or asked for", async () => {
    const a = await recording("a.wav");
    await batch([a]);
    expect(states(await batch([a], { bitDepth: "16" }))).toEqual(["done"]);
    await recording("a.wav", 7);
    expect(states(await batch([a], { bitDepth: "16" }))).toEqual(["done"]);
    await writeFile(join(masters, "a.wav"), "damaged");
    expect(states(await batch([a], { bitDepth: "16" }))).toEqual(["done"]);
    expect(states(await batch([a], { bitDepth: "16" }))).toEqual(["skipped"]);
    expect(states(await batch([a], { bitDepth: "16", force: true }))).toEqual(["done"]);
  });

  it("goes on after a file that cannot be read, and says which and why", async () => {
    await writeFile(join(folder, "broken.wav"), "no sound");
    const outcomes = await batch([join(folder, "broken.wav"), await recording("b.wav")]);
    expect(states(outcomes)).toEqual(["failed", "done"]);
    expect(outcomes[0]!.problem).toMatch(/\S/);
    expect(await names()).toEqual(["b.wav"]);
  });

  it("gives numbers to files of one name, now and in a later batch: no master takes another one's place", async () => {
    const [one, two, three] = [
      await recording("one/take.wav", 1),
      await recording("two/take.wav", 2),
      await recording("three/TAKE.wav", 3),
    ];
    await batch([one, two]);
    expect(await names()).toEqual(["take (2).wav", "take.wav"]);
    const before = await readFile(join(masters, "take.wav"));
    await batch([three]);
    expect(await names()).toHaveLength(3);
    expect(await readFile(join(masters, "take.wav"))).toEqual(before);
    expect(states(await batch([one]))).toEqual(["skipped"]);
  });

  it("never writes over the recording that it reads", async () => {
    const inside = await recording("masters/take.wav");
    const before = await readFile(inside);
    await batch([inside]);
    expect(await readFile(inside)).toEqual(before);
    expect(await names()).toEqual(["take (2).wav", "take.wav"]);
  });

  it("goes on where it was killed: the journal tells what is done, and half a master is none", async () => {
    const files = [await recording("a.wav", 1), await recording("b.wav", 2)];
    await batch(files.slice(0, 1));
    // What a process that is gone was making: its number is no process's, so its mark is known as gone.
    const half = join(masters, `.making-${processMark().replace(/-\d+$/, "-1")}-half`);
    await mkdir(half);
    await writeFile(join(half, "b.wav"), "half a master");
    expect(states(await withFolder(masters, () => batch(files)))).toEqual(["skipped", "done"]);
    expect(await readdir(masters)).toEqual([".resonum-batch.json", "a.wav", "b.wav"]);
  });

  it("says so where its journal cannot be understood, and renders nothing over it", async () => {
    await writeFile(join(masters, ".resonum-batch.json"), "{");
    await expect(batch([await recording("a.wav")])).rejects.toThrow(/cannot be understood: move it away/);
    expect(await names()).toEqual([]);
  });

  it("reads journals of the version before, which did not name the recording", async () => {
    const a = await recording("a.wav");
    await batch([a]);
    const path = join(masters, ".resonum-batch.json");
    const journal = JSON.parse(await readFile(path, "utf8")) as { done: Record<string, { input?: string }> };
    for (const entry of Object.values(journal.done)) delete entry.input;
    await writeFile(path, JSON.stringify(journal));
    expect(states(await batch([a]))).toEqual(["skipped"]);
  });
});

describe("a folder of masters", () => {
  it("has one batch at a time: another process that is at work in it is named", async () => {
    const other = spawn("sleep", ["30"]);
    try {
      // Field 22 of proc(5)'s stat, behind the name in brackets: when it began.
      const fields = (await readFile(`/proc/${other.pid}/stat`, "latin1")).replace(/^.*\) /s, "").split(" ");
      const mark = processMark().replace(/-\d+-\d+$/, `-${other.pid}-${fields[19]}`);
      await writeFile(join(masters, ".resonum-batch.lock"), mark);
      await expect(withFolder(masters, () => Promise.resolve(1))).rejects.toThrow(
        `Another batch is at work in ${masters} (process ${other.pid}).`,
      );
    } finally {
      other.kill();
    }
  });
  it("is free again after a batch that failed, and after one that was killed", async () => {
    await expect(withFolder(masters, () => Promise.reject(new Error("no")))).rejects.toThrow("no");
    await writeFile(join(masters, ".resonum-batch.lock"), processMark().replace(/-\d+$/, "-1"));
    await expect(withFolder(masters, () => Promise.resolve(1))).resolves.toBe(1);
    expect(await readdir(masters)).toEqual([]);
  });
});

describe("files of a batch", () => {
  it("are the sound and video files below a folder, by name, without hidden ones and the masters", async () => {
    await recording("b/2.wav");
    await recording("a.WAV");
    await recording(".hidden/x.wav");
    await recording("masters/m.wav");
    await writeFile(join(folder, "notes.txt"), "x");
    const found = await below(folder, masters);
    expect(found.map((path) => path.slice(folder.length + 1))).toEqual(["a.WAV", "b/2.wav"]);
    expect(await filesIn([folder], masters)).toEqual(found);
  });
  it("are taken as they are named, there or not; an empty folder is told", async () => {
    expect(await filesIn(["/nowhere/x.wav"])).toEqual(["/nowhere/x.wav"]);
    await expect(filesIn([masters])).rejects.toThrow(/holds no sound or video files/);
  });
});

describe("a recipe", () => {
  const file = async (text: string) => {
    const path = join(folder, "recipe.json");
    await writeFile(path, text);
    return path;
  };
  it("is overruled by options, field by field", async () => {
    const path = await file(JSON.stringify({ format: { container: "wav", bitDepth: "24", sampleRate: 96_000 } }));
    const { format } = await recipeOf({ recipe: path, bitDepth: "16" });
    expect([format.bitDepth, format.sampleRate]).toEqual(["16", 96_000]);
  });
  it.each([
    ["{", /recipe\.json is not valid JSON/],
    ['{"format":{"bitDepth":"12"}}', /recipe\.json is not valid: format\.bitDepth/],
    ['{"tempo":1}', /recipe\.json is not valid/],
  ])("that is %s is refused, with the place", async (text, message) => {
    await expect(recipeOf({ recipe: await file(text) })).rejects.toThrow(message);
  });
  it("options that cannot be are refused by their names", async () => {
    await expect(recipeOf({ rate: "fast" })).rejects.toThrow(/--rate/);
    await expect(specFrom("no-such-spec")).rejects.toThrow(/no-such-spec/);
    await expect(readJson("/nowhere.json", "The recipe")).rejects.toThrow("The recipe /nowhere.json cannot be read.");
    expect(() => checked(recipeSchema, 3, "here")).toThrow(/^here is not valid: whole/);
  });
});

describe("a watched folder", () => {
  it("takes what has arrived, once, and waits for what still grows", async () => {
    const arriving = join(folder, "in");
    await recording("in/a.wav");
    const growing = await recording("in/b.wav", 2);
    const touch = setInterval(() => void utimes(growing, new Date(), new Date()), 100);
    const watching = watchFolder(arriving, { out: masters, json: true, once: true, pollInterval: "0.3" });
    await vi.waitFor(async () => expect(await names()).toEqual(["a.wav"]), { timeout: 20_000 });
    clearInterval(touch);
    await watching;
    expect(await names()).toEqual(["a.wav", "b.wav"]);
    const { mtimeMs } = await stat(join(masters, "a.wav"));
    await watchFolder(arriving, { out: masters, json: true, once: true, pollInterval: "0.2" });
    expect((await stat(join(masters, "a.wav"))).mtimeMs).toBe(mtimeMs);
  });
  it("keeps files of one name from different folders apart", async () => {
    await recording("in/one/take.wav", 1);
    await recording("in/two/take.wav", 2);
    await watchFolder(join(folder, "in"), { out: masters, json: true, once: true, pollInterval: "0.2" });
    expect(await names()).toHaveLength(2);
    const [a, b] = await Promise.all((await names()).map((name) => readFile(join(masters, name))));
    expect(a!.equals(b!)).toBe(false);
  });
});
