/**
 * A simulated podcast host. A show is made by its first episode. An episode is described, then its sound and its cover
 * are sent; it is published when both are there, checked, and good.
 */
import { mkdir, readFile, rename, rm, writeFile } from "node:fs/promises";
import { join } from "node:path";
import * as z from "zod";
import { json, Refused, take, type Handler } from "./answer";
import { measured } from "./listen";

const MOST_BYTES = 512 * 2 ** 20;
const LONGEST_SECONDS = 6 * 3600;
/** Shows are played one after another: all near the same loudness. */
const WANTED = { stereo: -16, mono: -19, toleranceLu: 2, highestDbtp: -1 };

const episodeSchema = z.object({
  title: z.string().trim().min(1, "an episode needs a title").max(200),
  number: z.number().int().positive(),
  description: z.string().max(4000),
  explicit: z.boolean().default(false),
  chapters: z.array(z.object({ title: z.string(), startSeconds: z.number().nonnegative() })).max(500),
  sound: z.object({
    name: z
      .string()
      .max(250)
      .regex(/\.(mp3|m4a)$/i, "the sound must be MP3 or M4A")
      .regex(/^[^/\\\p{Cc}]*$/u, "the sound's name is a name, not a path"),
    bytes: z.number().int().positive(),
    sha256: z.string().regex(/^[0-9a-f]{64}$/),
  }),
  cover: z.object({ sha256: z.string().regex(/^[0-9a-f]{64}$/) }).nullable(),
});
type Episode = z.infer<typeof episodeSchema>;

interface Kept {
  id: string;
  episode: Episode;
  state: "described" | "published";
  soundPath?: string;
  coverPath?: string;
}

const slug = (text: string) =>
  text
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, 60);

export function podcastHost(folder: string): Handler {
  const fileOf = (show: string) => join(folder, slug(show), "show.json");
  const read = async (show: string): Promise<Kept[]> =>
    JSON.parse(await readFile(fileOf(show), "utf8").catch(() => "[]")) as Kept[];
  const write = async (show: string, episodes: Kept[]) => {
    await mkdir(join(folder, slug(show)), { recursive: true });
    const making = `${fileOf(show)}.making`;
    await writeFile(making, JSON.stringify(episodes, null, 2));
    await rename(making, fileOf(show));
  };

  async function describe(show: string, given: unknown) {
    const parsed = episodeSchema.safeParse(given);
    if (!parsed.success)
      throw new Refused(parsed.error.issues.map(({ path, message }) => `${path.join(".")}: ${message}`));
    const episode = parsed.data;
    const reasons: string[] = [];
    if (!episode.cover) reasons.push("An episode needs a cover, JPEG or PNG.");
    const unordered = episode.chapters.some(
      (one, i) => i > 0 && one.startSeconds <= episode.chapters[i - 1]!.startSeconds,
    );
    if (unordered) reasons.push("Chapters must follow one another in time.");
    const [first] = episode.chapters;
    if (first && first.startSeconds !== 0) reasons.push("The first chapter must begin at 0.");
    const episodes = await read(show);
    const same = episodes.find((one) => one.episode.number === episode.number);
    if (same?.state === "published" && same.episode.sound.sha256 !== episode.sound.sha256)
      reasons.push(`Episode ${episode.number} is published already: give this one another number.`);
    if (reasons.length > 0) throw new Refused(reasons);
    const id = same?.id ?? `${slug(show)}-${episode.number}`;
    const state = same?.state === "published" ? "published" : "described";
    await write(show, [...episodes.filter((one) => one.id !== id), { ...same, id, episode, state }]);
    return { status: 201, answer: { accepted: true, id, state, send: ["sound", "cover"] } };
  }

  async function receive(show: string, id: string, part: string, request: Parameters<Handler>[0]) {
    const found = (await read(show)).find((one) => one.id === id);
    if (!found) throw new Refused(["There is no such episode: describe it first."], 404);
    const taken = await take(request, join(folder, slug(show)), MOST_BYTES);
    const wanted = part === "sound" ? found.episode.sound.sha256 : found.episode.cover?.sha256;
    const path = join(folder, slug(show), part === "sound" ? `${id}-${found.episode.sound.name}` : `${id}-cover`);
    try {
      if (taken.sha256 !== wanted) throw new Refused(["What arrived is not what was described: its checksum differs."]);
      if (part === "sound") await checkSound(taken.path, found.episode);
      await rename(taken.path, path);
    } finally {
      await rm(taken.path, { force: true });
    }
    // Read again: the other part may have come meanwhile.
    const episodes = await read(show);
    const kept = episodes.find((one) => one.id === id)!;
    kept[part === "sound" ? "soundPath" : "coverPath"] = path;
    if (kept.soundPath && kept.coverPath) kept.state = "published";
    await write(show, episodes);
    return { status: 200, answer: { accepted: true, id, state: kept.state } };
  }

  return async (request, path) => {
    const [root, show, kind, id, part] = path;
    if (path.length === 0)
      return { status: 200, answer: { name: "Tern Audio, a simulated podcast host", takes: ["mp3", "m4a"] } };
    if (root !== "shows" || !show || !slug(show)) throw new Refused(["There is nothing here."], 404);
    if (request.method === "GET") return { status: 200, answer: await read(show) };
    if (request.method === "POST" && kind === "episodes" && !id) return describe(show, await json(request));
    if (request.method === "PUT" && kind === "episodes" && id && (part === "sound" || part === "cover"))
      return receive(show, id, part, request);
    throw new Refused(["There is nothing here."], 404);
  };
}

async function checkSound(path: string, { chapters }: Episode): Promise<void> {
  const { loudnessLufs, truePeakDbtp, seconds, channels } = await measured(path);
  const reasons: string[] = [];
  const wanted = channels === 1 ? WANTED.mono : WANTED.stereo;
  if (Math.abs(loudnessLufs - wanted) > WANTED.toleranceLu)
    reasons.push(`The loudness is ${loudnessLufs.toFixed(1)} LUFS; ${wanted} ±${WANTED.toleranceLu} is wanted.`);
  if (truePeakDbtp > WANTED.highestDbtp + 0.05)
    reasons.push(`The true peak is ${truePeakDbtp.toFixed(1)} dBTP; at most ${WANTED.highestDbtp} is allowed.`);
  if (seconds > LONGEST_SECONDS) reasons.push("An episode may be up to six hours long.");
  if (chapters.some(({ startSeconds }) => startSeconds >= seconds)) reasons.push("A chapter begins after the end.");
  if (reasons.length > 0) throw new Refused(reasons);
}
