import { describe, expect, it } from "vitest";
import type { ChainEntry } from "@core/process";
import { ChainStage } from "@core/render/chain-stage";
import { layoutNamed } from "@core/signal/layout";
import type { Planar } from "@core/signal/units";
import { joined, memoryFrames, noise, sameBits, sine } from "@core/testing/signals";
import { OWN_TAKE, Player } from "./player";
import { Ring } from "./ring";

const FORMAT = { sampleRate: 48000, layout: layoutNamed("stereo")! };
const QUANTUM = 128;

/** What is heard: the item through a chain, at a level. */
const through = (chain: ChainEntry[], gainDb = 0) => ({
  programme: { plus: { ...OWN_TAKE, chain, gainDb }, minus: null },
});

/** A desk without a device: reads the ring as the audio thread does. */
class Listener {
  readonly ring = Ring.create(2);
  readonly player: Player;
  readonly heard: [Float32Array[], Float32Array[]] = [[], []];

  constructor(block: Planar) {
    const source = memoryFrames(block, 48000);
    this.player = new Player(this.ring, source, FORMAT, { start: 0, end: source.frames });
  }

  async start(chain: ChainEntry[] = []): Promise<void> {
    await this.player.set(through(chain));
    await this.player.seek(0);
    await this.player.pump();
    this.ring.playing = true;
  }

  /** Hears `frames` frames; returns whether the end came. */
  async hear(frames: number): Promise<boolean> {
    for (let done = 0; done < frames; done += QUANTUM) {
      if (this.ring.ahead < QUANTUM) throw new Error("underrun");
      for (const side of [0, 1] as const) {
        const out = new Float32Array(QUANTUM);
        this.ring.take(side, this.ring.read, out);
        this.heard[side].push(out);
      }
      this.ring.advance(QUANTUM);
      if (done % 1024 === 0 && (await this.player.pump()).ended) return true;
    }
    return false;
  }

  get left(): Float32Array {
    return joined(...this.heard[0]);
  }
}

/** Largest step between neighbouring samples: a click is a step that the programme does not have. */
const largestStep = (x: Float32Array): number =>
  x.reduce((most, v, i) => (i === 0 ? 0 : Math.max(most, Math.abs(v - x[i - 1]!))), 0);

const LIMITED: ChainEntry[] = [
  { type: "gain", id: "g", bypass: false, gainDb: 6 },
  { type: "limiter", id: "l", bypass: false, ceilingDbtp: -6 },
];

describe("listening", () => {
  it("gives what a render gives, bit for bit", async () => {
    const block = [noise(2, 48000, -3, 1), noise(2, 48000, -6, 2)];
    const listener = new Listener(block);
    await listener.start(LIMITED);
    await listener.hear(80_000);
    const stage = new ChainStage(LIMITED, FORMAT);
    const rendered = joined(stage.push(block)[0]!, stage.finish()[0]!);
    expect(listener.left.subarray(0, 80_000)).toEqual(rendered.subarray(0, 80_000));
  });

  it("changes a setting within 50 ms, without a click", async () => {
    const tone = sine(200, -20, 4, 48000);
    const listener = new Listener([tone, tone]);
    await listener.start([{ type: "gain", id: "g", bypass: false, gainDb: 0 }]);
    await listener.hear(48_000);
    await listener.player.set(through([{ type: "gain", id: "g", bypass: false, gainDb: 12 }]));
    await listener.hear(24_000);
    const x = listener.left;
    const after = x.subarray(48_000 + 0.05 * 48_000, 48_000 + 0.1 * 48_000);
    expect(20 * Math.log10(Math.max(...after))).toBeCloseTo(-8, 1);
    // A 5 ms fade of 12 dB on a 200 Hz tone: no step larger than the louder tone's own, by a tenth.
    expect(largestStep(x)).toBeLessThan(1.1 * largestStep(after));
  });

  it("jumps, loops and ends without a click, and knows where it is", async () => {
    const tone = sine(150, -12, 3, 48000);
    const listener = new Listener([tone, tone]);
    await listener.start();
    await listener.hear(10_240);
    await listener.player.seek(100_007);
    await listener.hear(4096);
    expect(listener.player.positionAt(listener.ring.read)).toBeGreaterThan(103_000);
    await listener.player.set({ loop: { start: 110_000, end: 120_000 } });
    await listener.hear(48_000);
    const at = listener.player.positionAt(listener.ring.read);
    expect(at).toBeGreaterThanOrEqual(110_000);
    expect(at).toBeLessThanOrEqual(120_400);
    await listener.player.set({ loop: null });
    await listener.player.seek(140_000);
    expect(await listener.hear(20_000)).toBe(true);
    expect(largestStep(listener.left.subarray(0, listener.left.length - 4096))).toBeLessThan(1.6 * largestStep(tone));
  });

  it("goes on at the right place when a change took longer than was left to the audio thread", async () => {
    const block = [noise(3, 48000, -12, 5), noise(3, 48000, -12, 6)];
    const listener = new Listener(block);
    await listener.start();
    await listener.hear(10_240);
    // While the change is prepared, the device plays on past the place where it was to come in.
    const { read } = listener.player.source;
    listener.player.source.read = async (start, count) => {
      if (listener.ring.ahead > 6000) listener.ring.advance(1000);
      return read(start, count);
    };
    await listener.player.set(through([{ type: "limiter", id: "l", bypass: false, ceilingDbtp: -1 }]));
    listener.player.source.read = read;
    const at = listener.player.positionAt(listener.ring.read);
    listener.heard[0].length = 0;
    expect(await listener.hear(20_480)).toBe(false);
    const settled = 1024;
    expect(sameBits([listener.left.subarray(settled, 20_000)], [block[0]!.subarray(at + settled, at + 20_000)])).toBe(
      true,
    );
  });

  it("switches between original and now at the same place, matched", async () => {
    const x = [noise(2, 48000, -12, 3), noise(2, 48000, -12, 4)];
    const listener = new Listener(x);
    const louder: ChainEntry[] = [{ type: "gain", id: "g", bypass: false, gainDb: 6 }];
    await listener.start(louder);
    await listener.player.set(through(louder, -6));
    await listener.hear(30_720);
    await listener.player.set(through([]));
    await listener.hear(30_720);
    const heard = listener.left;
    // Matched exactly, now is the original again: the difference of both to the source is rounding.
    for (let i = 2000; i < 60_000; i++) expect(Math.abs(heard[i]! - x[0]![i]!)).toBeLessThan(1e-6);
  });

  it("meters what is heard: loudness, true peak, correlation", async () => {
    const tone = sine(1000, -23, 5, 48000);
    const listener = new Listener([tone, tone]);
    await listener.start();
    await listener.hear(4 * 48_000);
    await listener.player.pump();
    const { ring } = listener;
    expect(ring.meter("momentaryLufs")).toBeCloseTo(-23, 1);
    expect(ring.meter("shortTermLufs")).toBeCloseTo(-23, 1);
    expect(ring.meter("integratedLufs")).toBeCloseTo(-23, 1);
    expect(ring.channel(0).heldDb).toBeCloseTo(-23, 1);
    expect(ring.meter("correlation")).toBeCloseTo(1, 6);
    listener.player.resetMeters();
    expect(ring.meter("integratedLufs")).toBe(-Infinity);
  });
});
