/** What a command is told to do, and the folders that it reads and writes. */
import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { newFormat } from "@core/delivery/recipe";
import { specNamed } from "@core/delivery/specs";
import { processMark } from "@server/storage/process-mark";
import { below, filesIn } from "./files";
import { withFolder } from "./output-folder";
import { recipeOf, specFrom } from "./recipes";

let root: string;
let folder: string;
beforeAll(async () => void (root = await mkdtemp(join(tmpdir(), "resonum-folders-"))));
afterAll(() => rm(root, { recursive: true }));
let made = 0;
beforeEach(async () => {
  folder = join(root, String(made++));
  await mkdir(folder);
});
const put = async (name: string, text = "") => {
  const path = join(folder, name);
  await mkdir(join(path, ".."), { recursive: true });
  await writeFile(path, text);
  return path;
};

describe("files to work on", () => {
  it("are the sound and video files of a folder, by name, hidden ones left out", async () => {
    for (const name of ["b.wav", "a.FLAC", ".hidden.wav", "notes.txt", "deep/c.mp4", ".git/d.wav"]) await put(name);
    expect((await filesIn([folder])).map((path) => path.slice(folder.length + 1))).toEqual([
      "a.FLAC",
      "b.wav",
      "deep/c.mp4",
    ]);
  });
  it("are not what lies in the folder of the masters", async () => {
    await put("a.wav");
    await put("masters/a.wav");
    expect(await below(folder, join(folder, "masters"))).toEqual([join(folder, "a.wav")]);
  });
  it("are files as they are named, there or not: what is missing is told with its name later", async () => {
    expect(await filesIn([join(folder, "gone.wav")])).toEqual([join(folder, "gone.wav")]);
  });
  it("are asked for where a folder holds none", async () => {
    await put("notes.txt");
    await expect(filesIn([folder])).rejects.toThrow(/holds no sound or video files/);
  });
});

describe("a folder of masters", () => {
  const lock = () => join(folder, ".resonum-batch.lock");
  it("is held while work goes on, and let go after, also where the work fails", async () => {
    await withFolder(folder, async () => expect(await readFile(lock(), "utf8")).toBe(processMark()));
    await expect(
      withFolder(folder, () => {
        throw new Error("no");
      }),
    ).rejects.toThrow("no");
    expect(await readdir(folder)).toEqual([]);
  });
  it("is not taken from another batch that runs", async () => {
    // The parent of this process runs as well.
    const fields = (await readFile(`/proc/${process.ppid}/stat`, "latin1")).replace(/^.*\) /s, "").split(" ");
    const running = `${processMark().split("-")[0]}-${process.ppid}-${fields[19]}`;
    await writeFile(lock(), running);
    await expect(withFolder(folder, () => Promise.resolve())).rejects.toThrow(
      new RegExp(`Another batch is at work in .* \\(process ${process.ppid}\\)`),
    );
    expect(await readFile(lock(), "utf8")).toBe(running);
  });
  it("is taken over from one that is gone", async () => {
    await writeFile(lock(), processMark().replace(/-\d+-/, "-4194303-"));
    expect(await withFolder(folder, () => Promise.resolve("done"))).toBe("done");
  });
  it("is made where it is missing, and told where it cannot be", async () => {
    expect(await withFolder(join(folder, "new", "masters"), () => Promise.resolve("done"))).toBe("done");
    expect(await readdir(join(folder, "new"))).toEqual(["masters"]);
    await writeFile(join(folder, "note"), "x");
    await expect(withFolder(join(folder, "note"), () => Promise.resolve())).rejects.toThrow(
      /cannot be made: a file of that name is in the way/,
    );
  });
});

describe("a recipe", () => {
  it("is the file's, with what the options add or overrule", async () => {
    const recipe = await put(
      "r.json",
      JSON.stringify({ spec: "ebu-r128", format: { bitDepth: "24", sampleRate: 96000 } }),
    );
    const read = await recipeOf({ recipe, bitDepth: "16", channels: "mono" });
    expect(read.spec!.id).toBe("ebu-r128");
    expect(read.format).toMatchObject({ bitDepth: "16", sampleRate: 96_000, channels: "mono" });
  });
  it("is plain where nothing is said", async () => {
    expect((await recipeOf({})).format).toEqual(newFormat());
  });
  it("has the file that the spec asks for, unless it says otherwise", async () => {
    expect((await recipeOf({}, specNamed("cd-44-16"))).format).toMatchObject({ bitDepth: "16", sampleRate: 44_100 });
    const said = await put("r.json", JSON.stringify({ spec: "cd-44-16", format: { bits: "24" } }));
    expect((await recipeOf({ recipe: said })).format).toMatchObject({ bitDepth: "24", sampleRate: 44_100 });
    expect((await recipeOf({ rate: "48000" }, specNamed("cd-44-16"))).format).toMatchObject({ sampleRate: 48_000 });
    expect((await recipeOf({}, specNamed("audiobook-retail"))).format).toMatchObject({
      sampleRate: 44_100,
      bitrateKbps: 192,
      variableBitrate: false,
    });
  });
  it("has the spec of the options", async () => {
    const recipe = await put("r.json", JSON.stringify({ spec: "ebu-r128" }));
    expect((await recipeOf({ recipe }, specNamed("cd-44-16"))).spec!.id).toBe("cd-44-16");
  });
  it.each([
    ["{", /r\.json is not valid JSON/],
    ["[]", /r\.json is not valid: whole/],
    ['{"chain": [{"type": "gian"}]}', /r\.json is not valid: chain/],
    ['{"format": {"bitDepth": "17"}}', /format\.bitDepth/],
  ])("that is wrong is refused with the place: %s", async (text, words) => {
    const recipe = await put("r.json", text);
    await expect(recipeOf({ recipe })).rejects.toThrow(words);
  });
  it("that is not there is told", async () => {
    await expect(recipeOf({ recipe: join(folder, "gone.json") })).rejects.toThrow(
      /The recipe .*gone\.json cannot be read/,
    );
  });
  it("is refused by its options", async () => {
    await expect(recipeOf({ rate: "fast" })).rejects.toThrow(/--bit-depth, --rate/);
  });
});

describe("a specification", () => {
  it("ships by its id, or is read from a file of one's own", async () => {
    expect((await specFrom("ebu-r128")).id).toBe("ebu-r128");
    const own = { ...specNamed("ebu-r128"), id: "harbour", name: "Harbour Radio", target: -20 };
    expect((await specFrom(await put("own.json", JSON.stringify(own)))).target).toBe(-20);
  });
  it("of a version before has bounds of limiting all the same", async () => {
    const { maxLimitingDb: _, maxLimitingLossLu: __, ...before } = specNamed("ebu-r128");
    const read = await specFrom(await put("before.json", JSON.stringify(before)));
    expect(read).toMatchObject({ maxLimitingDb: 8, maxLimitingLossLu: 4 });
  });
  it("that is none says where", async () => {
    const wrong = { ...specNamed("ebu-r128"), target: 12 };
    await expect(specFrom(await put("own.json", JSON.stringify(wrong)))).rejects.toThrow(/target/);
  });
});
