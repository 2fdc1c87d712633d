import { describe, expect, it } from "vitest";
import { BiquadFilter, butterworth } from "../dsp/butterworth";
import { joined, memoryFrames, noise } from "../testing/signals";
import { linearPart } from "./linear-part";

const RATE = 48_000;
const x = noise(8, RATE, -12, 1);
const open = (y: Float32Array) => memoryFrames([y], RATE);
const at = (response: readonly (readonly [number, number])[], hertz: number) =>
  response.reduce((near, one) =>
    Math.abs(Math.log2(one[0] / hertz)) < Math.abs(Math.log2(near[0] / hertz)) ? one : near,
  )[1];

function filtered(y: Float32Array): Float32Array {
  const filter = new BiquadFilter(butterworth("low", 2000, 2, RATE), 1);
  const z = y.slice();
  filter.process([z]);
  return z;
}

describe("the linear part of a difference", () => {
  it("is all of it where the other went through a filter: its curve, and next to nothing left over", async () => {
    const { response, leftOverDb } = (await linearPart(open(x), open(filtered(x)), { shift: 0 }))!;
    expect(at(response, 200)).toBeCloseTo(0, 1);
    expect(Math.abs(at(response, 2000) + 3.01)).toBeLessThan(0.2);
    // Butterworth of the second order: |H|² = 1 / (1 + (f / fc)⁴), warped by the bilinear transform.
    const warped = Math.tan((Math.PI * 8000) / RATE) / Math.tan((Math.PI * 2000) / RATE);
    expect(at(response, 8000)).toBeCloseTo(-10 * Math.log10(1 + warped ** 4), 0);
    expect(leftOverDb).toBeLessThan(-40);
  });
  it("leaves over what no filter explains, at its level", async () => {
    const other = noise(8, RATE, -32, 2);
    const { response, leftOverDb } = (await linearPart(open(x), open(x.map((v, i) => 0.5 * v + other[i]!)), {
      shift: 0,
    }))!;
    expect(at(response, 1000)).toBeCloseTo(-6.02, 1);
    // The other noise lies 20 dB under the first, which is halved.
    expect(leftOverDb).toBeCloseTo(-20 + 6.02 - 10 * Math.log10(1 + 10 ** -1.398), 0);
  });
  it("finds the other where it lies", async () => {
    const later = joined(new Float32Array(12_345), x);
    expect((await linearPart(open(x), open(later), { shift: 12_345 }))!.leftOverDb).toBeLessThan(-80);
    expect((await linearPart(open(x), open(later), { shift: 0 }))!.leftOverDb).toBeGreaterThan(-1);
  });
  it("is not told of silence, nor of too little", async () => {
    expect(await linearPart(open(new Float32Array(RATE)), open(x), { shift: 0 })).toBeNull();
    expect(await linearPart(open(x.subarray(0, 9000)), open(x), { shift: 0 })).toBeNull();
  });
});
