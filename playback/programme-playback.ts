/** The programme as it is heard while it is put together: every item through its repairs, cuts and chain, live. */
import type { FrameSource } from "@core/audio/frame-source";
import type { Layout } from "@core/audio/layout";
import type { StreamFormat } from "@core/audio/stream-format";
import type { Frames, Hertz } from "@core/audio/units";
import type { Clip } from "@core/edit-list/clip";
import { editListSource } from "@core/edit-list/edit-list-source";
import type { ChainEntry } from "@core/processors";
import { fittedSource } from "@core/programme/fitted-source";
import type { StoredPlacement } from "@core/programme/placement";
import type { Lane } from "@core/programme/programme";
import { programmeSource } from "@core/programme/programme-source";
import type { Timeline } from "@core/programme/timeline";
import type { RepairStep } from "@core/repair";
import { chainMemorySeconds, type Failure } from "@core/render/chain-stage";
import { streamedSource, type StreamedSource } from "@core/render/streamed-source";

/** An item of the programme with all that is done to it. */
export interface ProgrammeItem {
  id: string;
  /** Where its recording is: float32 WAV, of this format and length. */
  url: string;
  layout: Layout;
  sampleRate: Hertz;
  frames: Frames;
  repairs: RepairStep[];
  clips: Clip[] | null;
  chain: ChainEntry[];
  placement?: StoredPlacement | undefined;
}

export interface ProgrammePlan {
  timeline: Timeline;
  items: ProgrammeItem[];
  lanes: Lane[];
}

/** Run-up of a chain before a change is heard: shorter than its memory, so that it comes at once. */
const CHANGE_RUN_UP_SECONDS = 0.05;

/** Files that are kept open: those of a join, of the lanes, and some around. Each holds some megabytes. */
const MOST_FILES = 16;

/** A file that is opened once it is read. */
function lazily(
  { url, sampleRate, layout, frames }: ProgrammeItem,
  open: (url: string) => Promise<FrameSource>,
): FrameSource {
  return {
    sampleRate,
    frames,
    channels: layout.speakers.length,
    read: async (start, count) => (await open(url)).read(start, count),
  };
}

export class ProgrammePlayback {
  readonly #files = new Map<string, Promise<FrameSource>>();
  #streams: StreamedSource[] = [];
  /** Whether chains begin with a short run-up, because something was changed, or with their whole memory. */
  quick = false;

  constructor(
    readonly openFile: (url: string) => Promise<FrameSource>,
    /** The recording after its repairs, as far as they are made. */
    readonly repaired: (source: FrameSource, item: ProgrammeItem) => FrameSource,
  ) {}

  #open = (url: string): Promise<FrameSource> => {
    let file = this.#files.get(url);
    if (!file) {
      file = this.openFile(url);
      file.catch(() => this.#files.delete(url)); // asked for again
    }
    // The one that was read last stands last; what was not read for long is let go of, with what it holds.
    this.#files.delete(url);
    this.#files.set(url, file);
    for (const oldest of this.#files.keys()) {
      if (this.#files.size <= MOST_FILES) break;
      this.#files.delete(oldest);
    }
    return file;
  };

  /** The sound before the programme's own chain. */
  source({ timeline, items, lanes }: ProgrammePlan): FrameSource {
    this.#streams = [];
    const byId = new Map(items.map((item) => [item.id, item]));
    return programmeSource({
      timeline,
      items,
      lanes,
      openItem: (id) => {
        const item = byId.get(id)!;
        const { layout, sampleRate, clips, chain } = item;
        const prepared = editListSource(this.repaired(lazily(item, this.#open), item), clips);
        return fittedSource(this.#through(prepared, chain, { layout, sampleRate }), layout, timeline);
      },
      processed: (lane, chain, keys) => this.#through(lane, chain, { ...timeline, keys }),
    });
  }

  #through(source: FrameSource, chain: readonly ChainEntry[], format: StreamFormat): FrameSource {
    const { sampleRate, layout, keys = [] } = format;
    if (chain.every(({ bypass }) => bypass)) return source;
    const memory = chainMemorySeconds(chain);
    const runUp = () => Math.ceil((this.quick ? Math.min(memory, CHANGE_RUN_UP_SECONDS) : memory) * sampleRate);
    const stream = streamedSource(source, chain, { sampleRate, layout, keys }, runUp);
    this.#streams.push(stream);
    return stream;
  }

  /** Processors that had to be muted. */
  get failures(): Failure[] {
    return this.#streams.flatMap(({ failures }) => failures);
  }
}
