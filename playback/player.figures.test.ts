import { describe, expect, it } from "vitest";
import { editListSource } from "@core/edit-list/edit-list-source";
import { replaced } from "@core/edit-list/edits";
import { recordingClip } from "@core/edit-list/clip";
import type { ChainEntry } from "@core/processors";
import { Measurer } from "@core/measure";
import { predictNow } from "@core/delivery/predict-chain";
import { ChainStage } from "@core/render/chain-stage";
import { layoutNamed } from "@core/audio/layout";
import type { Planar } from "@core/audio/units";
import { joined, memoryFrames, noise, sameBits, sine } from "@core/testing/signals";
import { OWN_SOURCE, Player } from "./player";
import type { OpenedSource, PlaybackSource } from "./playback-reader";
import { Ring } from "./ring";

const FORMAT = { sampleRate: 48000, layout: layoutNamed("stereo")! };
const QUANTUM = 128;

/** What is heard: the item through a chain, at a level. */
const through = (chain: ChainEntry[], gainDb = 0) => ({
  plan: { main: { ...OWN_SOURCE, chain, gainDb }, subtract: null },
});

/** A desk without a device: reads the ring as the audio thread does. */
class Listener {
  readonly ring = Ring.create(2);
  readonly player: Player;
  readonly heard: [Float32Array[], Float32Array[]] = [[], []];

  constructor(block: Planar, openSource?: (take: PlaybackSource) => Promise<OpenedSource>) {
    const source = memoryFrames(block, 48000);
    this.player = new Player(this.ring, source, FORMAT, openSource);
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

  it("lets only what a limiter takes away be heard: before less after, to the sample", async () => {
    const block = [noise(2, 48000, -3, 7), noise(2, 48000, -3, 8)];
    const listener = new Listener(block);
    const limiter: ChainEntry[] = [{ type: "limiter", id: "l", bypass: false, ceilingDbtp: -9 }];
    const plan = { main: OWN_SOURCE, subtract: { ...OWN_SOURCE, chain: limiter } };
    await listener.player.set({ plan });
    await listener.player.seek(0);
    await listener.player.pump();
    listener.ring.playing = true;
    await listener.hear(48_000);
    const stage = new ChainStage(limiter, FORMAT);
    const limited = joined(stage.push(block)[0]!, stage.finish()[0]!);
    const removed = block[0]!.map((v, i) => Math.fround(v - limited[i]!));
    expect(listener.left.subarray(0, 48_000)).toEqual(removed.subarray(0, 48_000));
  });

  it("goes from one recording to another at the same place, without a click, and matched", async () => {
    const own = noise(3, 48000, -12, 9);
    const other = [noise(3, 48000, -18, 10), noise(3, 48000, -18, 11)];
    const recording = memoryFrames(other, 48000);
    const listener = new Listener([own, own], ({ clips }) =>
      Promise.resolve({ source: editListSource(recording, clips), format: FORMAT }),
    );
    await listener.start();
    await listener.hear(20_480);
    const clips = [recordingClip(4800, 144_000)];
    const take = { url: "other", repairs: [], clips, chain: [], frozen: 0, gainDb: 6 };
    await listener.player.set({ plan: { main: take, subtract: null } });
    const at = listener.player.positionAt(listener.ring.read);
    listener.heard[0].length = 0;
    await listener.hear(20_480);
    const gain = 10 ** (6 / 20);
    for (let i = 2048; i < 20_000; i++) expect(listener.left[i]!).toBeCloseTo(gain * other[0]![at + 4800 + i]!, 5);
  });

  it("goes over to other pieces of the recording while it plays, without a click", async () => {
    const x = sine(440, -12, 3, 48000);
    const listener = new Listener([x, x]);
    await listener.start();
    await listener.hear(20_480);
    const clips = replaced([recordingClip(0, 144_000)], 40_000, 60_000);
    const main = { ...OWN_SOURCE, clips };
    await listener.player.set({ plan: { main, subtract: null }, frames: 124_000 });
    await listener.hear(98_000);
    const [arranged] = await editListSource(memoryFrames([x], 48000), clips).read(0, 118_000);
    expect(listener.left.subarray(24_000, 118_000)).toEqual(arranged!.subarray(24_000, 118_000));
    expect(largestStep(listener.left)).toBeLessThan(1.2 * largestStep(x));
    expect(await listener.hear(8000)).toBe(true);
  });

  it("is silent, and not at its end, where the other recording is over", async () => {
    const own = noise(2, 48000, -12, 9);
    const short = {
      source: memoryFrames([noise(0.2, 48000, -12, 1), noise(0.2, 48000, -12, 2)], 48000),
      format: FORMAT,
    };
    const listener = new Listener([own, own], () => Promise.resolve(short));
    await listener.player.set({ plan: { main: { ...OWN_SOURCE, url: "short" }, subtract: null } });
    await listener.player.pump();
    listener.ring.playing = true;
    expect(await listener.hear(40_000)).toBe(false);
    expect(Math.max(...listener.left.subarray(12_000))).toBe(0);
  });

  it("loops to the very sample", async () => {
    const x = noise(2, 48000, -12, 12);
    const listener = new Listener([x, x]);
    await listener.player.set({ loop: { start: 10_000, end: 22_000 } });
    await listener.player.seek(10_000);
    await listener.player.pump();
    listener.ring.playing = true;
    await listener.hear(40_960);
    const heard = listener.left;
    for (let i = 0; i < 40_000; i++) {
      // 5 ms after each turn what would have come fades out under the start.
      if (i >= 12_000 && i % 12_000 < 300) continue;
      expect(heard[i]).toBe(x[10_000 + (i % 12_000)]);
    }
  });

  it("plays a stretch once and stops where it ends, fading", async () => {
    const x = sine(300, -12, 2, 48000);
    const listener = new Listener([x, x]);
    await listener.player.seek(20_000, 30_000);
    await listener.player.pump();
    listener.ring.playing = true;
    expect(await listener.hear(20_000)).toBe(true);
    const heard = listener.left;
    expect(heard.subarray(0, 10_000)).toEqual(x.subarray(20_000, 30_000));
    expect(Math.max(...heard.subarray(10_300))).toBe(0);
    expect(largestStep(heard)).toBeLessThan(1.2 * largestStep(x));
    expect(listener.player.stoppedAt).toBe(30_000);
  });

  it("keeps count of where it is at other speeds", async () => {
    const x = sine(300, -12, 4, 48000);
    const listener = new Listener([x, x]);
    await listener.start();
    await listener.player.set({ speed: 2 });
    const before = listener.player.positionAt(listener.ring.read);
    await listener.hear(40_960);
    const after = listener.player.positionAt(listener.ring.read);
    expect(Math.abs(after - before - 2 * 40_960)).toBeLessThan(2048);
    await listener.player.set({ speed: -1 });
    await listener.hear(20_480);
    expect(listener.player.positionAt(listener.ring.read)).toBeLessThan(after - 18_000);
  });

  it("hears only the band that was chosen", async () => {
    const high = sine(6000, -12, 2, 48000);
    const x = sine(200, -12, 2, 48000).map((v, i) => v + high[i]!);
    const listener = new Listener([x, x]);
    await listener.player.set({ band: { low: 100, high: 500 } });
    await listener.player.seek(0);
    await listener.player.pump();
    listener.ring.playing = true;
    await listener.hear(40_960);
    const wanted = sine(200, -12, 2, 48000);
    const heard = listener.left.subarray(20_000, 40_000);
    expect(Math.max(...heard)).toBeCloseTo(Math.max(...wanted), 2);
    expect(largestStep(heard)).toBeLessThan(1.05 * largestStep(wanted));
  });

  it("brings what is compared to one loudness, within 0.1 LU of what is heard", async () => {
    const x = noise(8, 48000, -20, 21).map((v, i) => v * (0.4 + 0.6 * Math.sin(i / 40_000) ** 2));
    const block = [x, x];
    const measured = new Measurer(FORMAT);
    measured.process(block);
    const { figures, curves } = measured.result();
    const louder: ChainEntry[] = [{ type: "gain", id: "g", bypass: false, gainDb: 7 }, LIMITED[1]!];
    const after = predictNow(figures, curves, louder).integratedLufs!;
    const listener = new Listener(block);
    await listener.player.set(through(louder, figures.integratedLufs! - after));
    await listener.player.seek(0);
    await listener.player.pump();
    listener.ring.playing = true;
    await listener.hear(7 * 48_000);
    const heard = new Measurer(FORMAT);
    heard.process([joined(...listener.heard[0]), joined(...listener.heard[1])]);
    const original = new Measurer(FORMAT);
    original.process(block.map((channel) => channel.subarray(0, 7 * 48_000)));
    const offset = heard.result().figures.integratedLufs! - original.result().figures.integratedLufs!;
    expect(Math.abs(offset)).toBeLessThan(0.1);
  });
});
