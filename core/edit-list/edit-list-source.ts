import type { FrameSource } from "../audio/frame-source";
import { sinCosTurns } from "../math/deterministic-math";
import { readAround } from "../repair/repaired-source";
import { emptyPlanar, type Frames, type Hertz, type Planar, type Seconds } from "../audio/units";
import { EditList } from "./edit-list";
import { framesOfClip, DEFAULT_CROSSFADE, type CrossfadeShape, type Clip } from "./clip";
import { roomTone } from "./room-tone";

/** Where the item's own ends cut into its recording, it comes and goes over this long. */
const END_FADE: Seconds = 0.005;

/** Where a piece is heard, and how it comes and goes: frames of the item. */
interface Voice {
  clip: Clip;
  at: Frames;
  /** The crossfade around its beginning: where it starts, how long it is. */
  rise: Fade;
  fall: Fade;
  read(start: Frames, count: Frames): Promise<Planar> | Planar;
}

interface Fade {
  from: Frames;
  length: Frames;
  shape: CrossfadeShape;
}

/**
 * The item: the pieces of a recording one after the other. Away from joints its samples are the recording's, to the
 * bit; in a joint what lies beyond the edges of both sides is mixed.
 */
export function editListSource(source: FrameSource, clips: readonly Clip[] | null | undefined): FrameSource {
  const arrangement = EditList.of(clips, source.frames);
  if (arrangement.isWhole) return source;
  const { sampleRate, channels } = source;
  const { frames } = arrangement;
  const voices = voicesOf(arrangement, source);
  return {
    sampleRate,
    channels,
    frames,
    async read(start, count) {
      const end = Math.min(frames, start + count);
      const out = emptyPlanar(channels, Math.max(0, end - start));
      // Neighbours of the pieces in the block may reach into it by their joints.
      const first = Math.max(0, arrangement.indexAt(start) - 1);
      for (let index = first; index < voices.length; index++) {
        const voice = voices[index]!;
        if (voice.rise.from >= end) break;
        await addVoice(out, start, end, voice);
      }
      return out;
    },
  };
}

function voicesOf(arrangement: EditList, source: FrameSource): Voice[] {
  const { placed, recorded } = arrangement;
  const { sampleRate, channels } = source;
  const cutsHead = placed[0]!.clip.start > 0;
  const tail = placed.at(-1)!.clip;
  const cutsTail = tail.kind === "recording" && tail.end < recorded;
  const endFade = (is: boolean, clip: Clip): Frames =>
    is ? Math.min(Math.round(END_FADE * sampleRate), framesOfClip(clip) >> 1) : 0;
  const crossfades = placed.map(({ clip, at }, index): Fade => {
    const before = placed[index - 1]?.clip;
    if (!before) return { from: at, length: endFade(cutsHead, clip), shape: "smooth" };
    const { shape, seconds } = clip.crossfade ?? DEFAULT_CROSSFADE;
    const most = Math.min(framesOfClip(before), framesOfClip(clip));
    const length = shape === "hard" ? 0 : Math.min(most, Math.round(seconds * sampleRate));
    return { from: at - (length >> 1), length, shape };
  });
  const last = endFade(cutsTail, tail);
  crossfades.push({ from: arrangement.frames - last, length: last, shape: "smooth" });
  return placed.map(({ clip, at }, index) => ({
    clip,
    at,
    rise: crossfades[index]!,
    fall: crossfades[index + 1]!,
    read: readerOf(clip, source, channels, sampleRate),
  }));
}

function readerOf(clip: Clip, source: FrameSource, channels: number, sampleRate: Hertz): Voice["read"] {
  if (clip.kind === "silence") return (_, count) => emptyPlanar(channels, count);
  if (!clip.profile) return (start, count) => readAround(source, clip.start + start, clip.start + start + count);
  const tone = roomTone(clip.profile, channels, sampleRate);
  // Its joint begins before it does.
  return (start, count) => tone(clip.start + start + sampleRate, count);
}

/**
 * Share of a rising side at `i` of a fade of `length` frames; a falling one is the other way round. But for the straight
 * line, neither slope nor curvature jumps at its ends: a kink would be heard as a faint click.
 */
function share(shape: CrossfadeShape, i: number, length: Frames): number {
  const t = (i + 0.5) / length;
  if (shape === "linear") return t;
  const soft = t - sinCosTurns(t).sin / 6.283185307179586;
  return shape === "smooth" ? soft : sinCosTurns(soft / 4).sin;
}

async function addVoice(out: Planar, start: Frames, end: Frames, { at, rise, fall, read }: Voice): Promise<void> {
  const from = Math.max(start, rise.from);
  const to = Math.min(end, fall.from + fall.length);
  if (to <= from) return;
  const block = await read(from - at, to - from);
  const [full, falling] = [rise.from + rise.length, fall.from];
  out.forEach((x, c) => {
    const y = block[c]!;
    const plainFrom = Math.min(to, Math.max(from, full));
    const plainTo = Math.max(plainFrom, Math.min(to, falling));
    x.set(y.subarray(plainFrom - from, plainTo - from), plainFrom - start);
    for (let frame = from; frame < plainFrom; frame++)
      x[frame - start]! += y[frame - from]! * share(rise.shape, frame - rise.from, rise.length);
    for (let frame = plainTo; frame < to; frame++)
      x[frame - start]! += y[frame - from]! * share(fall.shape, fall.from + fall.length - 1 - frame, fall.length);
  });
}
