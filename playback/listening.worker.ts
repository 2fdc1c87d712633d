/** The listening engine's worker: reads sound by HTTP range, runs the core, keeps the ring filled. */
import { editListSource } from "@core/edit-list/edit-list-source";
import { openSoundFile } from "@core/files/open";
import { isActive } from "@core/repair";
import { frozenSource } from "@core/render/frozen-source";
import { cachedRepairSource } from "@core/repair/cached-repair-source";
import { resampledSource } from "@core/monitoring/resampled-source";
import { layoutForChannels, type Layout } from "@core/audio/layout";
import { httpSource } from "./http-source";
import type { FromWorker, ToWorker } from "./messages";
import { Player } from "./player";
import { ProgrammePlayback, type ProgrammePlan } from "./programme-playback";
import type { OpenedSource, PlaybackSource } from "./playback-reader";
import { contentHashOf, RepairCache } from "./repair-cache";
import { Ring } from "./ring";
import type { Failure } from "@core/render/chain-stage";

const PUMP_MS = 12;
/** 4 MB: nearly two seconds of twelve channels, so that a server that is busy for a moment is not heard. */
const AHEAD_CHUNKS = 8;

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: FromWorker) => scope.postMessage(message);

const repairStore = new RepairCache();
let player: Player | undefined;
let ring: Ring | undefined;
/** Where a programme is heard. */
let programme: ProgrammePlayback | undefined;
let turn = Promise.resolve();

/** Another recording, to be heard in the item's place. */
async function openSource({ url, repairs, clips }: PlaybackSource, sampleRate: number): Promise<OpenedSource> {
  const file = await openSoundFile(await httpSource(url!, { ahead: AHEAD_CHUNKS }));
  if (!file) throw new Error("The recording to compare with cannot be read.");
  const layout = file.layout ?? layoutForChannels(file.channels);
  const repaired = cachedRepairSource(file, repairs, { content: contentHashOf(url!), store: repairStore });
  return { source: resampledSource(editListSource(repaired, clips), sampleRate), format: { sampleRate, layout } };
}

/** A recording, with all that can be heard of it and in its place. */
async function openRecording(url: string, layout: Layout, memory: SharedArrayBuffer): Promise<void> {
  const file = await openSoundFile(await httpSource(url, { ahead: AHEAD_CHUNKS }));
  if (!file) throw new Error("The sound of this item cannot be read.");
  ring = new Ring(memory, file.channels);
  const { sampleRate } = file;
  const made = { content: contentHashOf(url), store: repairStore };
  player = new Player(
    ring,
    file,
    { sampleRate, layout },
    (take) => openSource(take, sampleRate),
    (steps) => cachedRepairSource(file, steps, made),
    (arranged, { repairs, clips, chain, frozen }) =>
      frozen === 0
        ? arranged
        : frozenSource(
            arranged,
            { content: made.content, repairs: repairs.filter(isActive), clips, chain: chain.slice(0, frozen) },
            repairStore,
          ),
  );
}

function openProgramme(plan: ProgrammePlan, memory: SharedArrayBuffer): void {
  programme = new ProgrammePlayback(
    async (url) => {
      const file = await openSoundFile(await httpSource(url, { ahead: AHEAD_CHUNKS }));
      if (!file) throw new Error("A recording of the programme cannot be read.");
      return file;
    },
    (source, { repairs, url }) =>
      cachedRepairSource(source, repairs, { content: contentHashOf(url), store: repairStore }),
  );
  const { sampleRate, layout } = plan.timeline;
  ring = new Ring(memory, layout.speakers.length);
  player = new Player(ring, programme.source(plan), { sampleRate, layout });
}

/** A change of the programme: chains begin with a short run-up, so that it is heard at once. */
async function changing(change: () => Promise<void> | undefined): Promise<void> {
  if (programme) programme.quick = true;
  try {
    await change();
  } finally {
    if (programme) programme.quick = false;
  }
}

async function handle(message: ToWorker): Promise<void> {
  const now = () => performance.timeOrigin + performance.now();
  switch (message.type) {
    case "open": {
      const { sound, layout, memory, settings, position } = message;
      if (typeof sound === "string") await openRecording(sound, layout, memory);
      else openProgramme(sound, memory);
      await player!.set(settings);
      await player!.seek(position);
      await player!.pump();
      return answer({ type: "opened" });
    }
    case "programme":
      return changing(() =>
        player?.become(programme!.source(message.programme), () =>
          answer({ type: "changed", milliseconds: now() - message.sent }),
        ),
      );
    case "set": {
      const { settings, sent } = message;
      return changing(() => player?.set(settings, () => answer({ type: "changed", milliseconds: now() - sent })));
    }
    case "seek":
      return player?.seek(message.frame, message.stopAt);
    case "scrub":
      if (!player || !ring) return;
      await player.scrub(message.frame);
      await player.pump();
      ring.playing = true;
      return answer({ type: "playing", playing: true });
    case "play":
      if (!player || !ring) return;
      await player.pump();
      ring.playing = true;
      return answer({ type: "playing", playing: true });
    case "pause":
      if (ring) ring.playing = false;
      return answer({ type: "playing", playing: false });
    case "repaired":
      repairStore.lookAgain();
      return player?.refresh();
    case "reset-meters":
      return player?.resetMeters();
    case "close":
      if (ring) ring.playing = false;
      player = undefined;
      programme = undefined;
      ring = undefined;
  }
}

const failed = (error: unknown) =>
  answer({
    type: "failed",
    message: error instanceof Error ? error.message : String(error),
    fatal: player === undefined,
  });

scope.onmessage = ({ data }: MessageEvent<ToWorker>) => {
  turn = turn.then(() => handle(data)).catch(failed);
};

let told = "[]";
/** Tells when other processors had to be muted than before. */
function tellMuted(failures: Failure[]): void {
  const now = JSON.stringify(failures);
  if (now !== told) answer({ type: "muted", failures });
  told = now;
}

async function pump(): Promise<void> {
  try {
    if (player && ring?.playing) {
      const { ended } = await player.pump();
      tellMuted([...player.failures, ...(programme?.failures ?? [])]);
      if (ended) {
        ring.playing = false;
        await player.seek(player.stoppedAt);
        answer({ type: "playing", playing: false });
      }
    }
  } catch (error) {
    failed(error);
  }
  setTimeout(() => void pump(), PUMP_MS);
}
void pump();
