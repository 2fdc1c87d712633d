/** What is frozen is what a render gives, in whatever order it is made; what is not made yet is as it came. */
import { describe, expect, it } from "vitest";
import { newChainEntry } from "../processors";
import type { SegmentStore } from "../repair/repaired-source";
import { layoutNamed } from "../audio/layout";
import { slicePlanar, type Planar } from "../audio/units";
import { memoryFrames, noise, sameBits } from "../testing/signals";
import { ChainStage } from "./chain-stage";
import { Freezer, frozenFrames, frozenSource } from "./frozen-source";
import { stream } from "../audio/stage";
import { joined } from "../testing/signals";

const RATE = 8000;
const format = { sampleRate: RATE, layout: layoutNamed("stereo")! };
const block = [noise(7, RATE, -6, 1), noise(7, RATE, -6, 2)];
const source = memoryFrames(block, RATE);
const chain = [newChainEntry("compressor", "c"), { ...newChainEntry("limiter", "l"), ceilingDbtp: -9 }];
const frozen = { content: "weir", repairs: [], clips: null, chain };

class Store implements SegmentStore {
  readonly kept = new Map<string, Planar>();
  get = async (key: string) => this.kept.get(key);
  put = (key: string, made: Planar) => void this.kept.set(key, made);
}

async function rendered(): Promise<Planar> {
  const parts: Planar[] = [];
  await stream(source, [new ChainStage(chain, format)], (part) => void parts.push(part));
  return block.map((_, c) => joined(...parts.map((part) => part[c]!)));
}

describe("frozen sound", () => {
  it.each([[[0, 1, 2, 3]], [[2, 3, 0, 1]]])("is the render's to the bit, made in the order %j", async (order) => {
    const store = new Store();
    const freezer = new Freezer(source, format, frozen, store);
    for (const segment of order) await freezer.make(segment);
    const heard = await frozenSource(source, frozen, store).read(0, source.frames);
    expect(sameBits(heard, await rendered())).toBe(true);
  });
  it("is as it came where it is not made yet, and asks for other sound once a setting is another one", async () => {
    const store = new Store();
    await new Freezer(source, format, frozen, store).make(1);
    const length = frozenFrames(RATE);
    const heard = frozenSource(source, frozen, store);
    expect(sameBits(await heard.read(0, length), slicePlanar(block, 0, length))).toBe(true);
    expect(sameBits(await heard.read(length, length), slicePlanar(block, length, 2 * length))).toBe(false);
    const other = { ...frozen, chain: [{ ...chain[0]!, ratio: 5 }, chain[1]!] };
    const changed = await frozenSource(source, other, store).read(length, length);
    expect(sameBits(changed, slicePlanar(block, length, 2 * length))).toBe(true);
    // What a processor is called, and what is written beside it, is no matter.
    const renamed = {
      ...frozen,
      chain: [{ ...chain[0]!, id: "x", about: { note: "", dials: [], photo: null } }, chain[1]!],
    };
    const same = await frozenSource(source, renamed, store).read(length, length);
    expect(sameBits(same, await heard.read(length, length))).toBe(true);
  });
});
