import type { FrameSource } from "../audio/frame-source";
import { bandPass, type Band } from "../dsp/butterworth";
import type { Frames, Planar } from "../audio/units";

/** A part of what a recording holds, for measuring: some channels of it, a band of it. To be read in order. */
export function soloSource(
  { sampleRate, channels, frames, read }: FrameSource,
  { band, channels: picked }: { band?: Band | undefined; channels?: readonly number[] | undefined },
): FrameSource {
  const kept = picked?.length ?? channels;
  const filter = band && bandPass(band, kept, sampleRate);
  return {
    sampleRate,
    channels: kept,
    frames,
    async read(start: Frames, count: Frames): Promise<Planar> {
      const block = await read(start, count);
      const part = picked ? picked.map((channel) => block[channel]!) : block;
      if (!filter) return part;
      const copy = part.map((x) => x.slice());
      filter.process(copy);
      return copy;
    },
  };
}
