import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { framesOf } from "@core/signal/units";
import { decodeMedia, probeMedia, writeByTool } from "./media-tool";

let folder: string;
beforeAll(async () => void (folder = await mkdtemp(join(tmpdir(), "resonum-media-"))));
afterAll(() => rm(folder, { recursive: true, force: true }));

function made(name: string, args: string[]): string {
  const path = join(folder, name);
  execFileSync("ffmpeg", ["-v", "error", "-y", ...args, path]);
  return path;
}
const TONE = ["-f", "lavfi", "-i", "sine=frequency=1000:sample_rate=48000:duration=2", "-ac", "2"];

async function frames(path: string): Promise<{ frames: number; peak: number; warnings: string[] }> {
  const blocks = decodeMedia(path, await probeMedia(path), new AbortController().signal);
  let count = 0;
  let peak = 0;
  for (;;) {
    const next = await blocks.next();
    if (next.done) return { frames: count, peak, warnings: next.value };
    count += framesOf(next.value);
    peak = next.value.reduce((most, x) => Math.max(most, ...x), peak);
  }
}

describe("the media tool", () => {
  it("reads FLAC to the sample, with its depth", async () => {
    const path = made("tone.flac", TONE);
    expect(await probeMedia(path)).toMatchObject({ sampleRate: 48000, channels: 2, bits: 16, encoding: "FLAC" });
    const read = await frames(path);
    expect(read).toMatchObject({ frames: 96_000, warnings: [] });
    expect(read.peak).toBeCloseTo(0.125 * Math.SQRT1_2, 3);
  });
  it("takes the sound out of a video", async () => {
    const path = made("film.mp4", [
      "-f",
      "lavfi",
      "-i",
      "testsrc=size=64x64:rate=10:duration=2",
      ...TONE,
      "-c:a",
      "aac",
      "-shortest",
    ]);
    expect((await probeMedia(path)).container).toMatch(/with picture/);
    expect((await frames(path)).frames).toBeGreaterThan(90_000);
  });
  it("says what is wrong with a file that is none, and with one that was cut off", async () => {
    const text = join(folder, "letter.mp3");
    await writeFile(text, "Dear Odda, the river is quiet. ".repeat(100));
    await expect(probeMedia(text).then(() => frames(text))).rejects.toThrow(/sound|read/i);
    const film = join(folder, "cut.mp4");
    execFileSync("sh", ["-c", `head -c 3000 "${made("whole.m4a", TONE)}" > "${film}"`]);
    await expect(probeMedia(film)).rejects.toThrow(/no index|damaged|could not be read/);
  });
  it("refuses a file without sound, by name of the reason", async () => {
    const path = made("silent.mp4", ["-f", "lavfi", "-i", "testsrc=size=64x64:rate=10:duration=1"]);
    await expect(probeMedia(path)).rejects.toThrow(/no sound/);
  });
  it("never leaves this machine: a playlist that points elsewhere gives nothing", async () => {
    const path = join(folder, "list.m3u8");
    await writeFile(path, "#EXTM3U\n#EXT-X-TARGETDURATION:10\n#EXTINF:9,\nhttp://127.0.0.1:9/a.ts\n#EXT-X-ENDLIST\n");
    await expect(probeMedia(path)).rejects.toThrow();
  });
  it.each([true, false])("has a group of its own where a stop is answered: %s", async (answers) => {
    const stop = () => undefined;
    if (answers) process.on("SIGTERM", stop);
    const running = writeByTool(["-re", "-f", "lavfi", "-i", "anullsrc", "-t", "0.5", join(folder, "pause.wav")]);
    process.off("SIGTERM", stop);
    const [child] = execFileSync("pgrep", ["-P", String(process.pid), "-n"])
      .toString()
      .trim()
      .split("\n");
    const [, , group] = readFileSync(`/proc/${child}/stat`, "utf8")
      .replace(/^.*\) /, "")
      .split(" ");
    expect(group === child).toBe(answers);
    await running;
  });
});
