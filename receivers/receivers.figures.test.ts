import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { mkdtemp, readdir, readFile, rm } from "node:fs/promises";
import { request } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { serve } from "./answer";
import { ingest } from "./ingest";
import { podcastHost } from "./podcast-host";

let folder: string;
let host: string;
let station: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), "resonum-receivers-"));
  host = `http://127.0.0.1:${await serve(0, podcastHost(join(folder, "host")))}`;
  station = `http://127.0.0.1:${await serve(0, ingest(join(folder, "station")))}`;
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const sha = (bytes: Uint8Array) => createHash("sha256").update(bytes).digest("hex");

/** Steady noise at a loudness, by ffmpeg. */
async function sound(name: string, lufs: number, args: string[] = []): Promise<Buffer> {
  const path = join(folder, name);
  const filter = `anoisesrc=d=6:r=48000:a=0.5:seed=1,loudnorm=I=${lufs}:TP=-3:LRA=7,aresample=48000`;
  execFileSync("ffmpeg", ["-v", "error", "-y", "-f", "lavfi", "-i", filter, "-ac", "2", ...args, path]);
  return readFile(path);
}
const put = async (url: string, bytes: Uint8Array) => {
  const response = await fetch(url, { method: "PUT", body: new Uint8Array(bytes) });
  return { status: response.status, answer: (await response.json()) as { reasons?: string[]; state?: string } };
};

describe("the simulated ingest", () => {
  it("takes what is right, and refuses the rest with every reason", async () => {
    const good = await sound("good.wav", -23, ["-c:a", "pcm_s24le"]);
    expect(await put(`${station}/programmes/Evening news.wav`, good)).toMatchObject({ status: 201 });
    const bad = await sound("bad.wav", -16, ["-c:a", "pcm_s16le", "-ar", "44100"]);
    const { status, answer } = await put(`${station}/programmes/${encodeURIComponent("Größe.wav")}`, bad);
    expect(status).toBe(422);
    expect(answer.reasons!.join("\n")).toMatch(/name[\s\S]*24-bit[\s\S]*44100 Hz[\s\S]*LUFS/);
    expect((await put(`${station}/programmes/Noise.wav`, Buffer.from("no sound"))).answer.reasons).toEqual([
      "This is no sound file that can be read.",
    ]);
    expect(await readdir(join(folder, "station"))).toEqual(["Evening news.wav"]);
  });
});

describe("the simulated podcast host", () => {
  const episode = (bytes: Uint8Array, cover: Uint8Array | null, change = {}) => ({
    title: "What the water carried",
    number: 3,
    description: "",
    chapters: [
      { title: "Beginning", startSeconds: 0 },
      { title: "Later", startSeconds: 3 },
    ],
    sound: { name: "three.mp3", bytes: bytes.length, sha256: sha(bytes) },
    cover: cover && { sha256: sha(cover) },
    ...change,
  });
  const describeIt = async (what: object) => {
    const response = await fetch(`${host}/shows/Morrow%20Lock/episodes`, {
      method: "POST",
      body: JSON.stringify(what),
    });
    return { status: response.status, answer: (await response.json()) as { id?: string; reasons?: string[] } };
  };

  it("publishes an episode when sound and cover are there, once", async () => {
    const [bytes, cover] = [await sound("three.mp3", -16), Buffer.from("a picture")];
    const { status, answer } = await describeIt(episode(bytes, cover));
    expect(status).toBe(201);
    const url = `${host}/shows/Morrow%20Lock/episodes/${answer.id}`;
    expect((await put(`${url}/sound`, bytes)).answer.state).toBe("described");
    expect((await put(`${url}/cover`, cover)).answer.state).toBe("published");
    // The same again changes nothing; another sound under the same number is refused.
    expect((await describeIt(episode(bytes, cover))).status).toBe(201);
    const other = await describeIt(episode(Buffer.from("other"), cover));
    expect(other.answer.reasons!.join()).toMatch(/published already/);
  });
  it("refuses with reasons: no cover, chapters out of order, too loud, other bytes than described", async () => {
    const loud = await sound("loud.mp3", -9);
    const wrong = episode(loud, null, { number: 4, chapters: [{ title: "Late", startSeconds: 4 }] });
    expect((await describeIt(wrong)).answer.reasons).toHaveLength(2);
    expect((await describeIt({ ...wrong, title: "", sound: { name: "x.wav" } })).answer.reasons!.join()).toMatch(
      /title.*MP3 or M4A/s,
    );
    const cover = Buffer.from("a picture");
    const { answer } = await describeIt(episode(loud, cover, { number: 5 }));
    const url = `${host}/shows/Morrow%20Lock/episodes/${answer.id}/sound`;
    expect((await put(url, loud)).answer.reasons!.join()).toMatch(/LUFS/);
    expect((await put(url, Buffer.from("x"))).answer.reasons!.join()).toMatch(/checksum/);
  });
});

describe("both refuse what is not theirs to take", () => {
  /** The status of a request as no browser would send it. */
  const raw = (base: string, path: string, headers: Record<string, string> = {}): Promise<number> =>
    new Promise((resolve, reject) => {
      const { hostname, port } = new URL(base);
      const asked = request({ hostname, port, path, method: "GET", headers }, (answer) => {
        answer.resume();
        resolve(answer.statusCode ?? 0);
      });
      asked.on("error", reject);
      asked.end();
    });
  it.each([
    ["/programmes/..%2F..%2Fetc%2Fpasswd.wav", 400],
    ["/shows/%2e%2e%2fother/episodes", 400],
    ["/programmes/%ff.wav", 400],
    ["/shows/a%00b", 400],
    ["/shows/a%5Cb", 400],
  ])("a path, or no text, in the place of a name: %s", async (path, status) => {
    for (const base of [host, station]) expect(await raw(base, path)).toBe(status);
    expect(await raw(host, "/")).toBe(200); // and lives on
  });
  it("pages of other sites, and names that only pretend to be this machine", async () => {
    for (const base of [host, station]) {
      expect(await raw(base, "/", { Origin: "http://elsewhere.invalid" })).toBe(403);
      expect(await raw(base, "/", { Host: "studio.invalid" })).toBe(421);
      expect(await raw(base, "/", { Origin: base })).toBe(200);
    }
  });
  it("a path as the name of an episode's sound", async () => {
    const answer = await fetch(`${host}/shows/low-water/episodes`, {
      method: "POST",
      body: JSON.stringify({
        ...{ title: "x", number: 1, description: "", chapters: [], cover: null },
        sound: { name: "../../three.mp3", bytes: 1, sha256: "0".repeat(64) },
      }),
    });
    expect(answer.status).toBe(422);
    expect(JSON.stringify(await answer.json())).toMatch(/a name, not a path/);
  });
  it("a playlist that names another file of the machine", async () => {
    const other = join(folder, "good.wav");
    const list = Buffer.from(`#EXTM3U\n#EXT-X-TARGETDURATION:6\n#EXTINF:6,\n${other}\n#EXT-X-ENDLIST\n`);
    const { status, answer } = await put(`${station}/programmes/List.wav`, list);
    expect([status, answer.reasons]).toEqual([422, ["This is no sound file that can be read."]]);
  });
});
