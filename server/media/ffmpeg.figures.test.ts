import { execFileSync, spawn, spawnSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { mkdtemp, rm, stat, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { framesOf } from "@core/audio/units";
import { demuxedBy, textOf, WallClockExceeded, wallSecondsFor, writeByFfmpeg } from "./ffmpeg";
import { decodeMedia, encodingName, probeMedia } from "./media-decoder";
import { inputFile, sandboxed, outputFile } from "./sandbox";

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

describe("ffmpeg, confined", () => {
  it("reads FLAC to the sample, with its depth", async () => {
    const path = made("tone.flac", TONE);
    expect(await probeMedia(path)).toMatchObject({ sampleRate: 48000, channels: 2, bits: 16, encoding: "FLAC" });
    const read = await frames(path);
    expect(read).toMatchObject({ frames: 96_000, warnings: [] });
    expect(read.peak).toBeCloseTo(0.125 * Math.SQRT1_2, 3);
  });
  it.each([
    ["pcm_s16le", "16-bit integer"],
    ["pcm_f32be", "32-bit float"],
    ["pcm_u8", "8-bit integer"],
    ["opus", "Opus"],
    ["adpcm_ms", "ADPCM MS"],
  ])("calls %s by the trade's word: %s", (codec, name) => expect(encodingName(codec)).toBe(name));
  it("tells the sound tracks of a file with their languages, takes any of them, and the timecode that it begins at", async () => {
    const tone = (hertz: number) => ["-f", "lavfi", "-i", `sine=frequency=${hertz}:sample_rate=48000:duration=1`];
    const path = made("tracks.mov", [
      ...["-f", "lavfi", "-i", "color=s=64x36:r=25:d=1", ...tone(500), ...tone(3000)],
      ...[
        "-map",
        "0",
        "-map",
        "1",
        "-map",
        "2",
        "-c:a:0",
        "pcm_s16le",
        "-c:a:1",
        "pcm_s24le",
        "-ac:a:0",
        "1",
        "-ac:a:1",
        "2",
      ],
      ...["-metadata:s:a:0", "language=ger", "-metadata:s:a:1", "language=fra", "-timecode", "10:00:00:12"],
    ]);
    const [first, second] = [await probeMedia(path), await probeMedia(path, 1)];
    expect(first.tracks).toEqual([
      { encoding: "16-bit integer", channels: 1, language: "ger", title: null },
      { encoding: "24-bit integer", channels: 2, language: "fra", title: null },
    ]);
    expect([first.channels, second.channels]).toEqual([1, 2]);
    expect(second.encoding).toBe("24-bit integer");
    expect(first.startSeconds).toBeCloseTo(36_000.48, 6);
    const crossings = async (about: typeof first) => {
      let count = 0;
      for await (const [x] of decodeMedia(path, about, new AbortController().signal))
        for (let i = 1; i < x!.length; i++) if (x![i - 1]! < 0 && x![i]! >= 0) count++;
      return count;
    };
    expect(await crossings(first)).toBeGreaterThan(480);
    expect(await crossings(first)).toBeLessThan(520);
    expect(await crossings(second)).toBeGreaterThan(2950);
    const plain = await probeMedia(made("one.flac", TONE));
    expect([plain.tracks, plain.startSeconds]).toEqual([null, undefined]);
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
    await expect(probeMedia(text).then(() => frames(text))).rejects.toThrow(/does not look like a sound/);
    const film = join(folder, "cut.mp4");
    execFileSync("sh", ["-c", `head -c 3000 "${made("whole.m4a", TONE)}" > "${film}"`]);
    await expect(probeMedia(film)).rejects.toThrow(/no index/);
  });
  it("refuses a file without sound, by name of the reason", async () => {
    const path = made("silent.mp4", ["-f", "lavfi", "-i", "testsrc=size=64x64:rate=10:duration=1"]);
    await expect(probeMedia(path)).rejects.toThrow(/no sound/);
  });
  it("says nothing of its own words, whatever it complains of", async () => {
    const path = made("torn.flac", TONE);
    execFileSync("sh", ["-c", `head -c 60 "${path}" > "${join(folder, "torn-off.flac")}"`]);
    const told = await probeMedia(join(folder, "torn-off.flac")).then(
      frames.bind(null, join(folder, "torn-off.flac")),
      (error: Error) => error,
    );
    expect(String((told as Error).message ?? "")).not.toMatch(/\/|0x|\[|flac|Error|Invalid/);
  });

  it.each([
    ["song.mp3", (other: string) => `#EXTM3U\n#EXT-X-TARGETDURATION:3\n#EXTINF:3,\n${other}\n#EXT-X-ENDLIST\n`],
    ["live.mp3", (other: string) => `#EXTM3U\n#EXT-X-TARGETDURATION:3\n#EXTINF:3,\n${other}\n`],
    ["away.mp3", () => "#EXTM3U\n#EXT-X-TARGETDURATION:9\n#EXTINF:9,\nhttp://127.0.0.1:9/a.ts\n#EXT-X-ENDLIST\n"],
    ["cut.wav", (other: string) => `ffconcat version 1.0\nfile ${other}\n`],
    ["stream.m4a", (other: string) => `<?xml version="1.0"?><MPD><Period><BaseURL>${other}</BaseURL></Period></MPD>`],
    ["talk.flac", () => "v=0\r\no=- 0 0 IN IP4 127.0.0.1\r\nm=audio 9 RTP/AVP 0\r\n"],
  ])("opens no other file: %s that names one is refused at once", async (name, text) => {
    const other = made("other.mp3", TONE);
    await writeFile(join(folder, name), text(other));
    await expect(probeMedia(join(folder, name))).rejects.toThrow(/playlist|description of a stream/);
  });
  it("reads a file by the demuxer of its first bytes and by no other", async () => {
    const list = join(folder, "forced.mp3");
    await writeFile(list, `#EXTM3U\n#EXT-X-TARGETDURATION:3\n#EXTINF:3,\n${made("named.mp3", TONE)}\n#EXT-X-ENDLIST\n`);
    await expect(textOf("ffprobe", [...demuxedBy("mp3", list), "-show_format"])).rejects.toThrow(/could not be read/);
  });
  it("gives a file as long as its sound may take, and what states too much no longer than its bytes allow", () => {
    const tenHoursOfSilence = wallSecondsFor(5_000_000, 36_000);
    expect(tenHoursOfSilence).toBeGreaterThan(36_000 / 20);
    expect(wallSecondsFor(100_000, 1e9)).toBeLessThan(300);
    expect(wallSecondsFor(100_000)).toBeLessThan(60);
  });
  it("does not take for damaged what only took too long: nothing of it is kept as if it were whole", async () => {
    const path = made("long.wav", ["-f", "lavfi", "-i", "sine=d=200:r=48000", "-c:a", "adpcm_ms"]);
    const about = { ...(await probeMedia(path)), fileBytes: -596_000, seconds: 0 }; // 0.2 s
    const blocks = decodeMedia(path, about, new AbortController().signal);
    const readAfterPause = async () => {
      await blocks.next();
      await new Promise((resolve) => setTimeout(resolve, 400)); // more waits than the pipe takes
      for (;;) {
        const next = await blocks.next();
        if (next.done) return next.value;
      }
    };
    await expect(readAfterPause()).rejects.toThrow(WallClockExceeded);
  });
  it("ends one that takes too long, and says so", async () => {
    const out = join(folder, "endless.wav");
    const endless = ["-re", "-f", "lavfi", "-i", "anullsrc", outputFile(out)];
    await expect(writeByFfmpeg(endless, { wallSeconds: 0.7 })).rejects.toThrow(
      /took longer than any sound file of its size/,
    );
  });
  it("has a group of its own, which a signal to ours does not reach", async () => {
    const silence = ["-re", "-f", "lavfi", "-i", "anullsrc", "-t", "1", outputFile(join(folder, "pause.wav"))];
    const running = writeByFfmpeg(silence, { wallSeconds: 20 });
    await new Promise((resolve) => setTimeout(resolve, 400));
    const [child] = execFileSync("pgrep", ["-P", String(process.pid), "-n", "bwrap|ffmpeg"])
      .toString()
      .trim()
      .split("\n");
    const [, , group] = readFileSync(`/proc/${child}/stat`, "utf8")
      .replace(/^.*\) /, "")
      .split(" ");
    expect(group).toBe(child);
    await running;
  });
  it("ends at any moment, also while its sandbox is being built, and leaves no process", async () => {
    const path = join(folder, "cut-short.wav");
    for (let ms = 0; ms < 60; ms += 3) {
      const stop = new AbortController();
      const endless = ["-re", "-f", "lavfi", "-i", "anullsrc", outputFile(path)];
      const running = writeByFfmpeg(endless, { wallSeconds: 20, signal: stop.signal });
      setTimeout(() => stop.abort(), ms);
      await expect(running).rejects.toThrow();
    }
    await expect.poll(() => spawnSync("pgrep", ["-cf", path]).stdout.toString().trim()).toBe("0");
  });
});

describe("the sandbox", () => {
  const LIMITS = { cpuSeconds: 10, memoryBytes: 2 ** 31, fileBytes: 1 << 20 };
  const inside = async (...args: Parameters<typeof sandboxed>[1]) => {
    const command = await sandboxed("sh", args, LIMITS);
    try {
      return execFileSync(command.program, command.args, { encoding: "utf8", stdio: ["ignore", "pipe", "ignore"] });
    } finally {
      await command.release();
    }
  };
  it("shows the files that are named and none beside them", async () => {
    await writeFile(join(folder, "mine.txt"), "mine");
    await writeFile(join(folder, "secret.txt"), "secret");
    const seen = await inside(
      "-c",
      `cat "\${1#file:}"; cat ${folder}/secret.txt; ls /etc /root /home; true`,
      "sh",
      inputFile(join(folder, "mine.txt")),
    );
    expect(seen).toMatch(/^mine/);
    expect(seen).not.toMatch(/secret|passwd|shadow/);
  });
  it("has no network and sees no other process", async () => {
    expect(await inside("-c", "cat /proc/net/dev | grep -c : ; ls /proc | grep -c '^[0-9]'")).toMatch(/^1\n[1-9]\n$/);
  });
  it("writes the one file that it is given, which is ours again afterwards, up to the limit", async () => {
    const out = join(folder, "written.txt");
    await inside("-c", `head -c 3000000 /dev/zero > "\${1#file:}"; true`, "sh", outputFile(out));
    const { size, uid } = await stat(out);
    expect(size).toBe(LIMITS.fileBytes);
    expect(uid).toBe(process.getuid!());
    await expect(inside("-c", "touch /usr/there && echo touched; touch /tmp/ok && echo fine")).resolves.toBe("fine\n");
  });
  it("reads what only its owner may read, as that owner", async () => {
    const path = join(folder, "private.txt");
    await writeFile(path, "private", { mode: 0o600 });
    expect(await inside("-c", `cat "\${1#file:}"`, "sh", inputFile(path))).toBe("private");
  });
  it("ends with the process that started it, however that ends", async () => {
    const { program, args } = await sandboxed("sleep", ["47.11"], LIMITS);
    const parent = spawn(process.execPath, [
      "-e",
      `require("child_process").spawn(${JSON.stringify(program)}, ${JSON.stringify(args)}); setInterval(() => {}, 1000)`,
    ]);
    const sleeping = () => execFileSync("sh", ["-c", "pgrep -cf '^sleep 47.11' || true"]).toString().trim();
    await expect.poll(sleeping, { timeout: 5000 }).not.toBe("0");
    parent.kill("SIGKILL");
    await expect.poll(sleeping, { timeout: 5000 }).toBe("0");
  });

  describe("where the kernel forbids namespaces", () => {
    const holder = globalThis as { resonumNamespaces?: Promise<boolean> | undefined };
    beforeAll(() => void (holder.resonumNamespaces = Promise.resolve(false)));
    afterAll(() => void (holder.resonumNamespaces = undefined));
    it("all other limits are left: files are read, written up to a size, and playlists refused", async () => {
      expect((await probeMedia(made("plain.flac", TONE))).sampleRate).toBe(48_000);
      expect((await frames(made("plain.mp3", TONE))).frames).toBeGreaterThan(90_000);
      const out = join(folder, "limited.txt");
      await inside("-c", `head -c 3000000 /dev/zero > "\${1#file:}"; true`, "sh", outputFile(out));
      expect((await stat(out)).size).toBe(LIMITS.fileBytes);
      await writeFile(join(folder, "plain.m3u"), "#EXTM3U\n/etc/passwd\n");
      await expect(probeMedia(join(folder, "plain.m3u"))).rejects.toThrow(/playlist/);
    });
    it("a tool still ends with the process that started it", async () => {
      const { program, args } = await sandboxed("sleep", ["47.13"], LIMITS);
      const start = `require("child_process").spawn(${JSON.stringify(program)}, ${JSON.stringify(args)}); setInterval(() => {}, 1000)`;
      const parent = spawn(process.execPath, ["-e", start]);
      const sleeping = () => execFileSync("sh", ["-c", "pgrep -cf '^sleep 47.13' || true"]).toString().trim();
      await expect.poll(sleeping, { timeout: 5000 }).not.toBe("0");
      parent.kill("SIGKILL");
      await expect.poll(sleeping, { timeout: 5000 }).toBe("0");
    });
  });
});
