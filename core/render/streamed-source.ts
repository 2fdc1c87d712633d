/** A source through a chain, read on and on, or from anywhere with a run-up: what is heard of one part among others. */
import type { FrameSource } from "../audio/frame-source";
import type { StreamFormat } from "../audio/stream-format";
import { framesOf, joinedPlanar, type Frames, type Planar } from "../audio/units";
import type { ChainEntry } from "../processors";
import { ChainReader } from "./chain-reader";
import type { Failure } from "./chain-stage";

export interface StreamedSource extends FrameSource {
  /** Processors that had to be muted. */
  readonly failures: Failure[];
}

/**
 * @param runUp frames before where reading begins that go through the chain first; with its whole memory the samples are
 * a render's
 */
export function streamedSource(
  source: FrameSource,
  chain: readonly ChainEntry[],
  format: StreamFormat,
  runUp: () => Frames,
): StreamedSource {
  const { sampleRate, frames } = source;
  const channels = format.layout.speakers.length;
  const range = { start: 0, end: frames };
  let reader: ChainReader | undefined;
  return {
    sampleRate,
    channels,
    frames,
    get failures() {
      return reader?.failures ?? [];
    },
    async read(start, count) {
      if (reader?.position !== start) reader = new ChainReader(source, range, chain, format, start, runUp());
      const parts: Planar[] = [];
      const end = Math.min(frames, start + count);
      while (reader.position < end) {
        const part = await reader.read(end - reader.position);
        if (framesOf(part) === 0) break;
        parts.push(part);
      }
      return joinedPlanar(parts, channels);
    },
  };
}
