import { mkdtemp, readdir, rm, writeFile } from "node:fs/promises";
import { execFileSync } from "node:child_process";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { layoutNamed } from "@core/audio/layout";
import { chooseLayout, withFrames, withRecording } from "./input";
import { measureFile } from "./measure-recording";

let folder: string;
beforeAll(async () => void (folder = await mkdtemp(join(tmpdir(), "resonum-cli-"))));
afterAll(() => rm(folder, { recursive: true, force: true }));

function tone(name: string, ...more: string[]): string {
  const path = join(folder, name);
  execFileSync("ffmpeg", [
    "-v",
    "error",
    "-y",
    "-f",
    "lavfi",
    "-i",
    "sine=frequency=997:sample_rate=48000:duration=2",
    ...more,
    path,
  ]);
  return path;
}

describe("what the command line opens", () => {
  it("is told when it is not there, or no file", async () => {
    await expect(withRecording("/nowhere/x.wav", async () => 1)).rejects.toThrow(/no file \/nowhere\/x\.wav/);
    await expect(withRecording(folder, async () => 1)).rejects.toThrow(/is not a file/);
    const empty = join(folder, "empty.wav");
    await writeFile(empty, "");
    await expect(withFrames(empty, async () => 1)).rejects.toThrow(/empty/);
  });
  it("reads WAV and FLAC to the same figures, and leaves no temporary file", async () => {
    const wav = tone("a.wav", "-c:a", "pcm_s16le");
    const flac = tone("a.flac", "-sample_fmt", "s16");
    const [one, two] = [(await measureFile(wav, undefined)).figures, (await measureFile(flac, undefined)).figures];
    expect(two.integratedLufs).toBe(one.integratedLufs);
    expect(two.truePeakDbtp).toBe(one.truePeakDbtp);
    const before = (await readdir(tmpdir())).filter((name) => /^resonum-[A-Za-z0-9]{6}$/.test(name));
    const frames = await withFrames(flac, async ({ source }) => source.frames);
    expect(frames).toBe(96_000);
    const after = (await readdir(tmpdir())).filter((name) => /^resonum-[A-Za-z0-9]{6}$/.test(name));
    expect(after).toEqual(before);
  });
});

describe("layouts on the command line", () => {
  it("are the file's own, or the one asked for, if it fits", () => {
    expect(chooseLayout(undefined, layoutNamed("5.1"), 6).name).toBe("5.1");
    expect(chooseLayout(undefined, undefined, 12).name).toBe("7.1.4");
    expect(chooseLayout("5.1.2", layoutNamed("7.1"), 8).name).toBe("5.1.2");
    expect(() => chooseLayout("5.1", undefined, 8)).toThrow(/has 6 channels; the file has 8/);
    expect(() => chooseLayout("round", undefined, 2)).toThrow(/there are: mono, stereo/);
  });
});
