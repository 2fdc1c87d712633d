/** Where masters are handed over to: the simulated receivers that ship, and whatever else speaks as they do. */
import { createHash } from "node:crypto";
import { createReadStream } from "node:fs";
import { Readable } from "node:stream";
import { readFile } from "node:fs/promises";
import { blobs } from "../storage/blobs";
import { config } from "../config";
import { latestFolder, newFolder } from "./folder-receivers";
import { remaining, type Receiver, type SubmittedFile } from "./receiver";

const TRIES = 3;

/** Sends a file or a description; an answer of 5xx, or none, is tried again. */
async function send(
  url: string,
  init: () => RequestInit & { duplex?: "half" },
): Promise<SubmittedFile & { id?: string }> {
  for (let tries = 1; ; tries++) {
    try {
      const response = await fetch(url, init());
      const answer = (await response.json()) as { reasons?: string[]; id?: string };
      if (response.status >= 500) throw new Error(answer.reasons?.join(" ") ?? `it answers ${response.status}`);
      return {
        name: "",
        accepted: response.ok,
        reasons: answer.reasons ?? [],
        ...(answer.id ? { id: answer.id } : {}),
      };
    } catch (error) {
      if (tries < TRIES) continue;
      const cause = (error as Error & { cause?: Error }).cause?.message ?? (error as Error).message;
      throw new Error(`The receiver cannot be reached: ${cause}. Nothing is lost; submit again later.`);
    }
  }
}

const putFile = (url: string, path: string, bytes: number, sha256: string) =>
  send(url, () => ({
    method: "PUT",
    body: Readable.toWeb(createReadStream(path)) as unknown as BodyInit,
    duplex: "half",
    headers: { "content-length": String(bytes), "x-sha256": sha256 },
  }));

/** One file after the other by its name. */
const broadcaster = (url: string): Receiver => ({
  id: "ingest",
  name: "Longshore Radio, ingest",
  help: "A simulated broadcaster: WAV at 48 kHz and 24 bit, −23 LUFS; refuses with reasons",
  async take(handing) {
    for (const { name, master } of remaining(handing)) {
      const path = await blobs.fileOf(master.file_hash!);
      const to = `${url}/programmes/${encodeURIComponent(name)}`;
      await handing.said({ ...(await putFile(to, path, master.file_bytes!, master.file_hash!)), name });
    }
  },
});

/** A show for the project, an episode for each item, with its chapters and cover. */
const podcastHost = (url: string): Receiver => ({
  id: "podcast",
  name: "Tern Audio, podcast host",
  help: "A simulated podcast host: MP3 or M4A at −16 (mono −19) LUFS with a cover; one show for the project",
  async take(handing) {
    const { document } = handing.delivery;
    const show = `${url}/shows/${encodeURIComponent(document.about.title || document.name)}/episodes`;
    for (const { name, master } of remaining(handing)) {
      const { tags, cover } = master.inputs;
      const sound = { name, bytes: master.file_bytes!, sha256: master.file_hash! };
      const picture = cover && (await blobs.fileOf(cover));
      const coverHash =
        picture &&
        createHash("sha256")
          .update(await readFile(picture))
          .digest("hex");
      const episode = {
        title: tags.title,
        number: tags.track,
        description: tags.comment,
        chapters: tags.chapters,
        sound,
        cover: coverHash ? { sha256: coverHash } : null,
      };
      const described = await send(show, () => ({ method: "POST", body: JSON.stringify(episode) }));
      if (!described.accepted || !described.id) {
        await handing.said({ ...described, name });
        continue;
      }
      const episodeUrl = `${show}/${described.id}`;
      const path = await blobs.fileOf(master.file_hash!);
      let last = await putFile(`${episodeUrl}/sound`, path, sound.bytes, sound.sha256);
      if (last.accepted && picture) {
        const bytes = (await blobs.size(cover))!;
        last = await putFile(`${episodeUrl}/cover`, picture, bytes, coverHash!);
      }
      await handing.said({ ...last, name });
    }
  },
});

export function receivers(): Receiver[] {
  const { podcast, ingest } = config.receivers;
  return [
    newFolder,
    latestFolder,
    ...(podcast ? [podcastHost(podcast)] : []),
    ...(ingest ? [broadcaster(ingest)] : []),
  ];
}
