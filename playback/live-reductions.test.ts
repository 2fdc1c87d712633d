import { describe, expect, it } from "vitest";
import { newChainEntry } from "@core/processors";
import { LiveReductions, reductionPlaces } from "./live-reductions";
import { MAX_REDUCTIONS, Ring } from "./ring";

const CHAIN = [
  newChainEntry("gain", "g"),
  newChainEntry("multiband", "m"),
  { ...newChainEntry("compressor", "off"), bypass: true },
  { ...newChainEntry("limiter", "l"), bassApart: true },
];

describe("gain reductions while they are heard", () => {
  it("have places by processor and band, none for what tells nothing or is bypassed", () => {
    expect([...reductionPlaces(CHAIN)]).toEqual([
      ["m", { first: 0, count: 3 }],
      ["l", { first: 3, count: 2 }],
    ]);
  });

  it("end where the ring has no more room", () => {
    const many = Array.from({ length: 50 }, (_, n) => newChainEntry("multiband", `m${n}`));
    const places = [...reductionPlaces(many).values()];
    expect(places).toHaveLength(Math.floor(MAX_REDUCTIONS / 3));
    expect(Math.max(...places.map(({ first, count }) => first + count))).toBeLessThanOrEqual(MAX_REDUCTIONS);
  });

  it("are told when their block is heard, not when it is written", () => {
    const ring = Ring.create(2);
    const live = new LiveReductions(ring);
    live.become(CHAIN);
    const start = ring.read;
    live.written(start, { m: [1, 2, 3], l: [0, 0] });
    live.written(start + 2048, { m: [0, 0, 0], l: [6, 4] });
    live.update();
    expect([0, 1, 2, 3, 4].map((place) => ring.reduction(place))).toEqual([1, 2, 3, 0, 0]);
    expect(ring.meter("reductionDb")).toBe(3);
    ring.advance(2048);
    live.update();
    expect(ring.reduction(3)).toBe(6);
    expect(ring.reduction(4)).toBe(4);
    expect(ring.meter("reductionDb")).toBe(6);
    // What was told falls slowly.
    expect(ring.reduction(2)).toBeCloseTo(2.85, 10);
  });

  it("forget what is written over before it is heard", () => {
    const ring = Ring.create(2);
    const live = new LiveReductions(ring);
    live.become(CHAIN);
    live.written(ring.read + 100, { l: [9, 9] });
    live.written(ring.read + 50, { l: [1, 0] });
    ring.advance(200);
    live.update();
    expect(ring.reduction(3)).toBe(1);
  });

  it("begin at nothing for another chain", () => {
    const ring = Ring.create(2);
    const live = new LiveReductions(ring);
    live.become(CHAIN);
    live.written(ring.read, { l: [9, 9] });
    live.update();
    live.become(CHAIN.slice(3));
    expect(ring.reduction(0)).toBe(0);
    expect(ring.reduction(3)).toBe(0);
  });
});
