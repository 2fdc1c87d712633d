/** The demo studio: `make` synthesises its recordings, `load` puts them into an empty library. Each runs once. */
import { existsSync } from "node:fs";
import { link, mkdir, rename, rm, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { WavWriter } from "@core/files/wav-writer";
import { newChainEntry, type ChainEntry } from "@core/processors";
import type { Command } from "@core/project/commands";
import { itemAboutSchema, projectAboutSchema, type Marker } from "@core/project/document";
import type { TemplateId } from "@core/project/templates";
import { newFade } from "@core/programme/fade";
import type { PlacementChanges } from "@core/programme/placement";
import { PLAIN_HEAD, type ReportHead } from "@core/project/report-head";
import { newFormat } from "@core/delivery/recipe";
import { Quantiser } from "@core/dsp/quantise";
import { layoutNamed, type Layout } from "@core/audio/layout";
import { framesOf, slicePlanar, type Planar } from "@core/audio/units";
import { blobs } from "@server/storage/blobs";
import { FileSink } from "@server/storage/byte-files";
import { config } from "@server/config";
import { row, transaction } from "@server/db/database";
import { requestMaster } from "@server/rendering/masters";
import { createProject, edit, nameState } from "@server/projects/projects";
import { addSource, isAnalysed, sourceOf } from "@server/projects/sources";
import { ALBUM } from "./album";
import { CHAPTER_RATE, makeChapter } from "./chapter";
import { makeCover, makeLogo } from "./cover";
import { makeFilm } from "./film";
import { makeSoundscape, SOUNDSCAPE_LAYOUT } from "./soundscape";
import { RATE } from "./synth/instruments";

const folder = join(config.dataFolder, "demo");
const loadedMark = join(folder, "loaded");
const CHAPTER_FILE = "Chapter 03 raw.wav";
const SOUNDSCAPE_FILE = "Orchard at Dusk 7.1.4.wav";
const FILM_FILE = "Low Water reel 2.mp4";
const PREPARED_WITHIN_MS = 120_000;

async function write(name: string, block: Planar, sampleRate: number, layout: Layout): Promise<void> {
  const path = join(folder, name);
  if (existsSync(path)) return;
  const making = `${path}.making`;
  await rm(making, { force: true });
  const sink = await FileSink.create(making);
  const writer = await WavWriter.open(sink, { sampleRate, layout, format: "24" });
  const quantiser = new Quantiser(block.length, 24, { dither: "flat", sampleRate });
  for (let at = 0; at < framesOf(block); at += 65_536) {
    const part = slicePlanar(block, at, Math.min(framesOf(block), at + 65_536));
    await writer.writeIntegers(quantiser.next(part), framesOf(part));
  }
  await writer.finish();
  await sink.sync();
  await sink.close();
  await rename(making, path);
}

async function make(): Promise<void> {
  if (existsSync(loadedMark)) return;
  await mkdir(folder, { recursive: true });
  const has = (name: string) => existsSync(join(folder, name));
  for (const piece of ALBUM) if (!has(piece.file)) await write(piece.file, piece.make(), RATE, layoutNamed("stereo")!);
  if (!has(CHAPTER_FILE))
    await write(
      CHAPTER_FILE,
      (await makeChapter(join(process.cwd(), "demo", "speech"))).block,
      CHAPTER_RATE,
      layoutNamed("mono")!,
    );
  if (!has(FILM_FILE)) {
    const making = join(folder, `${FILM_FILE}.making`);
    await makeFilm(join(folder, CHAPTER_FILE), making);
    await rename(making, join(folder, FILM_FILE));
  }
  if (!has(SOUNDSCAPE_FILE)) await write(SOUNDSCAPE_FILE, makeSoundscape(), RATE, SOUNDSCAPE_LAYOUT);
}

const ALBUM_ABOUT = {
  title: "Saltmarsh Hours",
  artist: "The Quiet Sluices",
  publisher: "Longshore Pressings",
  genre: "Folk",
  date: "2026",
  catalogue: "LSP 014",
};

/** Frames of the chapter's recording. */
const CHAPTER_MARKS: Marker[] = [
  { id: "chapter-1", kind: "chapter", name: "The lock keeper’s morning", start: 0 },
  { id: "chapter-2", kind: "chapter", name: "What the water carried", start: 12 * CHAPTER_RATE },
];

/** A picture, kept as a page would keep it; its hash. */
async function kept(picture: Uint8Array): Promise<string> {
  const draft = await blobs.draft();
  try {
    await draft.sink().write(picture);
    return (await draft.commit()).hash;
  } finally {
    await draft.discard();
  }
}

const reportHead = async (client: string): Promise<ReportHead> => ({
  ...PLAIN_HEAD,
  studio: "Marsh Room Mastering",
  contact: "4 Sluice Quay\nOdda",
  engineer: "Ilse Varga",
  client,
  logo: await kept(makeLogo()),
});

const editHead = (project: string, command: Command) => edit(project, { base: null, command, author: "demo" });

interface Recording {
  file: string;
  title: string;
}

/** Takes recordings in as an upload would, and returns the project. */
async function project(
  name: string,
  template: TemplateId,
  recordings: Recording[],
  more: Command[] = [],
): Promise<{ id: string; hashes: string[] }> {
  const { id } = await createProject(name, template, "demo");
  const hashes: string[] = [];
  for (const [index, { file, title }] of recordings.entries()) {
    const path = join(folder, file);
    const handed = `${path}.handed`;
    await rm(handed, { force: true });
    await link(path, handed);
    const { hash, bytes } = await blobs.adopt(handed);
    const isRead = await isAnalysed(hash);
    await transaction((client) => addSource({ hash, name: file, bytes, project: id }, isRead, client));
    const item = { id: `item-${index + 1}`, name: title, source: hash, repairs: [], chain: [], markers: [] };
    await editHead(id, { type: "addSource", source: { hash, name: file }, item });
    hashes.push(hash);
  }
  for (const command of more) await editHead(id, command);
  return { id, hashes };
}

async function load(): Promise<void> {
  if (existsSync(loadedMark)) return;
  if (await row("select 1 from project limit 1")) return;
  await project("Orchard at Dusk", "immersive", [{ file: SOUNDSCAPE_FILE, title: "Orchard at Dusk" }]);
  await project(
    "Low Water · film",
    "video",
    [{ file: FILM_FILE, title: "Reel two" }],
    [
      {
        type: "addDeliverable",
        deliverable: { id: "film", spec: "ebu-r128", format: newFormat({ container: "video", sampleRate: 48000 }) },
      },
    ],
  );
  await project(
    "The Keeper of Morrow Lock",
    "audiobook",
    [{ file: CHAPTER_FILE, title: "Chapter three" }],
    [
      {
        type: "describeProject",
        about: projectAboutSchema.parse({
          artist: "Ansa Birk",
          publisher: "Lockhouse Voices",
          date: "2026",
          genre: "Audiobook",
          comment: "Read by the author.",
          report: await reportHead("Lockhouse Voices"),
          cover: await kept(makeCover()),
        }),
      },
      { type: "addMarkers", item: "item-1", markers: CHAPTER_MARKS },
      {
        type: "addDeliverable",
        deliverable: {
          id: "podcast",
          spec: "mono-speech-19",
          format: newFormat({ container: "mp3", sampleRate: 44100, bitrateKbps: 96 }),
        },
      },
    ],
  );
  const album = await project(
    "Saltmarsh Hours · side one",
    "music",
    [...ALBUM],
    [
      {
        type: "addDeliverable",
        deliverable: { id: "broadcast", spec: "ebu-r128", format: newFormat({ sampleRate: 48000 }) },
      },
      {
        type: "describeProject",
        about: projectAboutSchema.parse({
          ...ALBUM_ABOUT,
          cover: await kept(makeCover()),
          report: await reportHead("Longshore Pressings"),
        }),
      },
      ...ALBUM.map(
        (_, index) =>
          ({
            type: "describeItem",
            item: `item-${index + 1}`,
            about: itemAboutSchema.parse({
              composer: "Merle Tan",
              isrc: `ZZS1H26${String(index + 1).padStart(5, "0")}`,
            }),
          }) as const,
      ),
      ...albumOrder(),
      {
        type: "addDeliverable",
        deliverable: {
          id: "side",
          spec: "streaming-14",
          format: newFormat({ sampleRate: 44100, bitDepth: "16" }),
          programme: "both",
        },
      },
      ...firstPass().map((entry) => ({ type: "addProcessor", item: "item-2", entry }) as const),
    ],
  );
  await nameState(album.id, await headOf(album.id), "first pass on Kestrel Weather");
  await prepared(album.hashes);
  for (const [item, deliverable] of [
    ["item-1", "d1"],
    ["item-1", "broadcast"],
    ["item-3", "broadcast"],
    ["item-5", "d1"],
  ] as const) {
    await requestMaster(album.id, item, deliverable);
  }
  await writeFile(loadedMark, new Date().toISOString());
  for (const file of [...ALBUM.map((piece) => piece.file), CHAPTER_FILE, SOUNDSCAPE_FILE, FILM_FILE])
    await rm(join(folder, file), { force: true });
}

/** Pauses, fades and levels of the side as they stand: the last but one comes in under the end of the one before. */
function albumOrder(): Command[] {
  const place = (item: string, changes: PlacementChanges, what: string): Command => ({
    type: "placeItems",
    items: [{ item, changes }],
    what,
  });
  return [
    place("item-1", { fadeOut: newFade(4, "exponential") }, "fade-out 4 s"),
    place("item-2", { gapSeconds: 2, gainDb: -1.5 }, "pause 2 s"),
    place("item-3", { gapSeconds: 2.5, fadeIn: newFade(1), fadeOut: newFade(6, "S-curve") }, "pause and fades"),
    place("item-4", { gapSeconds: -1.7, fadeIn: newFade(2.4) }, "overlap 1.7 s"),
    place("item-5", { gapSeconds: 3, gainDb: 1, fadeOut: newFade(8, "exponential") }, "pause 3 s"),
    { type: "setProgramme", changes: { headSeconds: 0.5, tailSeconds: 2 }, what: "head and tail" },
  ];
}

/** What was done to the second piece so far. */
function firstPass(): ChainEntry[] {
  const band = (shape: string, hertz: number, gainDb: number, q: number, sides = "all") => ({
    shape,
    hertz,
    gainDb,
    q,
    slope: "12",
    on: true,
    sides,
  });
  const bands = [
    band("low shelf", 84, 1.5, 0.7),
    band("bell", 214, -2.8, 0.9),
    band("bell", 3150, 1.2, 1.4, "side"),
    band("high shelf", 9800, 1.8, 0.7),
  ];
  return [
    { ...newChainEntry("filter", "filter-1"), highHz: 28 },
    { ...newChainEntry("equaliser", "equaliser-1"), bands },
    newChainEntry("multiband", "multiband-1"),
    { ...newChainEntry("saturation", "saturation-1"), driveDb: 4, bypass: true },
    { ...newChainEntry("gain", "gain-1"), gainDb: 4 },
    { ...newChainEntry("limiter", "limiter-1"), ceilingDbtp: -1.2 },
  ];
}

const headOf = async (id: string): Promise<number> =>
  (await row<{ head: number }>("select head from project where id = $1", [id]))!.head;

/** Waits until the workers have read the recordings; goes on without the rest when it takes too long. */
async function prepared(hashes: string[]): Promise<void> {
  const end = Date.now() + PREPARED_WITHIN_MS;
  for (const hash of hashes) {
    while ((await sourceOf(hash)).state !== "ready" && Date.now() < end)
      await new Promise((resolve) => setTimeout(resolve, 150));
  }
}

const actions: Record<string, () => Promise<void>> = { make, load };
const action = actions[process.argv[2] ?? ""];
if (!action) throw new Error("say “make” or “load”");
action().then(
  () => process.exit(0),
  (error: unknown) => {
    console.error(`The demo studio could not be set up: ${error instanceof Error ? error.message : String(error)}`);
    process.exit(1);
  },
);
