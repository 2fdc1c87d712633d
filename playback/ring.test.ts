import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { framesBetween, Ring, RING_FRAMES } from "./ring";

const ramp = (length: number, from = 0) => Float32Array.from({ length }, (_, i) => from + i);

describe("the ring of shared memory", () => {
  it("gives back what was put, across its end and past the wrap of its counters", () => {
    const ring = Ring.create(2);
    fc.assert(
      fc.property(
        fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 }),
        fc.integer({ min: 1, max: RING_FRAMES }),
        (frame, length) => {
          const put = ramp(length, 3);
          ring.put(1, frame, put);
          const out = new Float32Array(length);
          ring.take(1, frame, out);
          return out.every((v, i) => v === put[i]);
        },
      ),
      { numRuns: 60 },
    );
  });
  it("counts frames over the wrap", () => {
    expect(framesBetween(-(2 ** 31) + 10, 2 ** 31 - 10)).toBe(20);
    const ring = Ring.create(1);
    ring.write = 2 ** 31 - 5 + 100;
    expect(framesBetween(ring.write, 2 ** 31 - 5)).toBe(100);
  });
  it("shows the same to every thread that holds its memory", () => {
    const ring = Ring.create(3);
    const other = new Ring(ring.memory, 3);
    ring.playing = true;
    ring.write = 512;
    ring.advance(128);
    ring.setMeter("momentaryLufs", -23.5);
    ring.setChannel(2, -3, -1, -12);
    ring.put(4, 0, ramp(10));
    expect(other.playing).toBe(true);
    expect(other.ahead).toBe(384);
    expect(other.meter("momentaryLufs")).toBe(-23.5);
    expect(other.channel(2)).toEqual({ nowDb: -3, heldDb: -1, rmsDb: -12 });
    const out = new Float32Array(10);
    other.take(4, 0, out);
    expect(out).toEqual(ramp(10));
  });
  it("keeps planes apart", () => {
    const ring = Ring.create(2);
    ring.planes.forEach((_, plane) => ring.put(plane, RING_FRAMES - 3, ramp(6, plane * 100)));
    ring.planes.forEach((_, plane) => {
      const out = new Float32Array(6);
      ring.take(plane, RING_FRAMES - 3, out);
      expect(out).toEqual(ramp(6, plane * 100));
    });
  });
  it("forgets its figures when told, but not where the playhead is", () => {
    const ring = Ring.create(1);
    ring.setMeter("position", 4711);
    ring.setMeter("integratedLufs", -14);
    ring.clearMeter();
    expect(ring.meter("position")).toBe(4711);
    expect(ring.meter("integratedLufs")).toBe(-Infinity);
    expect(ring.meter("correlation")).toBeNaN();
    expect(ring.meter("reductionDb")).toBe(0);
  });
});
