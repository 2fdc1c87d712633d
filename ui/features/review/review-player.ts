/** What a review page plays: versions of one title, one of which is heard, at the same place and the same loudness. */
import { mergedRanges, type Range } from "@core/review/ranges";

export interface PlayedFile {
  position: number;
  url: string;
  gainDb: number;
  seconds: number;
}

/** As much of an audio element as is used. */
export type Sound = Pick<
  HTMLAudioElement,
  "currentTime" | "paused" | "play" | "pause" | "addEventListener" | "src" | "preload" | "load"
>;

export interface PlayerOutput {
  /** A new element, and how its level is set. */
  open(url: string): { sound: Sound; setGain(gain: number): void };
  /** To be called by a press: browsers play nothing before one. */
  wake(): void;
}

/** With a gain for each element, which phones do not let be set on the element itself. */
export function browserOutput(): PlayerOutput {
  let context: AudioContext | undefined;
  return {
    wake: () => void context?.resume(),
    open(url) {
      context ??= new AudioContext();
      const sound = new Audio(url);
      sound.preload = "auto";
      const gain = context.createGain();
      context.createMediaElementSource(sound).connect(gain).connect(context.destination);
      return { sound, setGain: (value) => (gain.gain.value = value) };
    },
  };
}

/** Between what an element tells, it goes on playing for no longer. */
const LONGEST_STEP_SECONDS = 1;

interface Opened {
  sound: Sound;
  setGain(gain: number): void;
}

export class ReviewPlayer {
  readonly #opened = new Map<string, Opened>();
  #current: PlayedFile | null = null;
  #heard: Range[] = [];
  #last: number | null = null;

  /** @param changed told of whatever a page shows: time, playing, a problem */
  constructor(
    readonly output: PlayerOutput,
    readonly changed: (problem: string | null) => void,
  ) {}

  get time(): number {
    return this.#sound?.currentTime ?? 0;
  }

  get playing(): boolean {
    return this.#sound !== undefined && !this.#sound.paused;
  }

  get #sound(): Sound | undefined {
    return this.#current ? this.#opened.get(this.#current.url)?.sound : undefined;
  }

  /** Takes a file in hand; of the same title, it goes on where the former one was, and plays where that played. */
  choose(file: PlayedFile, isSameTitle: boolean): void {
    const before = this.#sound;
    const at = isSameTitle ? this.time : 0;
    const wasPlaying = isSameTitle && this.playing;
    this.#current = file;
    const { sound, setGain } = this.#open(file);
    setGain(10 ** (file.gainDb / 20)); // of what is heard on a page, not of what is measured
    if (before === sound) return;
    before?.pause();
    sound.currentTime = at;
    this.#last = null;
    if (wasPlaying) this.play();
    this.changed(null);
  }

  #open(file: PlayedFile): Opened {
    const known = this.#opened.get(file.url);
    if (known) return known;
    const opened = this.output.open(file.url);
    const { sound } = opened;
    const isCurrent = () => sound === this.#sound;
    sound.addEventListener("timeupdate", () => isCurrent() && this.#note());
    for (const event of ["play", "pause", "ended", "seeked", "loadedmetadata"])
      sound.addEventListener(event, () => isCurrent() && this.changed(null));
    sound.addEventListener("error", () => isCurrent() && this.changed("This browser cannot play the file."));
    this.#opened.set(file.url, opened);
    return opened;
  }

  /** What was played since the last time that the element told its place. */
  #note(): void {
    const now = this.time;
    const last = this.#last;
    if (last !== null && now > last && now - last < LONGEST_STEP_SECONDS)
      this.#heard = mergedRanges([...this.#heard, [last, now]], LONGEST_STEP_SECONDS / 4);
    this.#last = this.playing ? now : null;
    this.changed(null);
  }

  play(): void {
    this.output.wake();
    this.#last = this.time;
    this.#sound?.play().catch((error: Error) => {
      if (error.name !== "AbortError") this.changed("This browser cannot play the file.");
    });
  }

  toggle(): void {
    if (this.playing) this.#sound?.pause();
    else this.play();
  }

  seek(seconds: number): void {
    if (!this.#sound || !this.#current) return;
    this.#sound.currentTime = Math.max(0, Math.min(this.#current.seconds, seconds));
    this.#last = null;
    this.changed(null);
  }

  /** What was heard of the file in hand since it was last asked. */
  takeHeard(): Range[] {
    const heard = this.#heard;
    this.#heard = [];
    return heard;
  }

  close(): void {
    for (const { sound } of this.#opened.values()) sound.pause();
  }
}
