import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { framesOf, type Planar } from "../audio/units";
import { joined, memoryFrames, noise, sameBits, sine } from "../testing/signals";
import type { ChainEntry } from "../processors";
import { ChainReader } from "./chain-reader";
import { ChainStage } from "./chain-stage";

const FORMAT = { sampleRate: 48000, layout: layoutNamed("stereo")! };
const CHAIN: ChainEntry[] = [
  { type: "gain", bypass: false, gainDb: 4 },
  { type: "limiter", bypass: false, ceilingDbtp: -3 },
];
const block = [noise(1.2, 48000, -2, 1), sine(300, -1, 1.2, 48000)];
const source = memoryFrames(block, 48000);
const whole = { start: 0, end: source.frames };

function rendered(): Planar {
  const stage = new ChainStage(CHAIN, FORMAT);
  const parts = [stage.push(block), stage.finish()];
  return [0, 1].map((c) => joined(...parts.map((part) => part[c]!)));
}

async function all(reader: ChainReader, size: number): Promise<Planar> {
  const parts: Planar[] = [];
  for (;;) {
    const part = await reader.read(size);
    if (framesOf(part) === 0) break;
    parts.push(part);
  }
  return [0, 1].map((c) => joined(...parts.map((part) => part[c]!)));
}

describe("what is heard", () => {
  it("from the start is what is rendered, to the bit, whatever is read at a time", async () => {
    for (const size of [100, 2048, 5000]) {
      expect(sameBits(await all(new ChainReader(source, whole, CHAIN, FORMAT, 0, 0), size), rendered())).toBe(true);
    }
  });
  it("from the middle, with the past as run-up, is what is rendered", async () => {
    const reader = new ChainReader(source, whole, CHAIN, FORMAT, 30_000, 30_000);
    expect(reader.position).toBe(30_000);
    expect(
      sameBits(
        await all(reader, 2048),
        rendered().map((channel) => channel.slice(30_000)),
      ),
    ).toBe(true);
  });
  it("ends where the stretch ends", async () => {
    const reader = new ChainReader(source, { start: 1000, end: 9000 }, CHAIN, FORMAT, 1000, 0);
    expect(framesOf(await all(reader, 3000))).toBe(8000);
  });
});
