import type { FrameSource } from "../audio/frame-source";
import { bandPass, type Band } from "../dsp/butterworth";
import type { Frames, Planar } from "../audio/units";

/** A part of what a recording holds, for measuring: one channel of it, a band of it. To be read in order. */
export function soloSource(
  { sampleRate, channels, frames, read }: FrameSource,
  { band, channel }: { band?: Band | undefined; channel?: number | undefined },
): FrameSource {
  const kept = channel === undefined ? channels : 1;
  const filter = band && bandPass(band, kept, sampleRate);
  return {
    sampleRate,
    channels: kept,
    frames,
    async read(start: Frames, count: Frames): Promise<Planar> {
      const block = await read(start, count);
      const part = channel === undefined ? block : [block[channel]!];
      if (!filter) return part;
      const copy = part.map((x) => x.slice());
      filter.process(copy);
      return copy;
    },
  };
}
