import { describe, expect, it } from "vitest";
import { meanPower, siSdr, speechLike } from "../testing/degraded";
import { roomed } from "../testing/room";
import { noise } from "../testing/signals";
import { PREDICTION_REACH, WeightedPrediction } from "./weighted-prediction-error";

const RATE = 16_000;
const SIZE = 1024;
const speech = speechLike(9, RATE, 3);

/** Through the prediction, with silence around. */
function through(block: Float32Array[], share = 1): Float32Array[] {
  const edge = Math.ceil(PREDICTION_REACH * RATE);
  const padded = block.map((x) => {
    const out = new Float32Array(x.length + 2 * edge);
    out.set(x, edge);
    return out;
  });
  const frames = block[0]!.length;
  const place = { first: -edge, from: edge, to: edge + frames, heldFrom: edge, heldTo: edge + frames };
  new WeightedPrediction(SIZE, RATE, 0.05).process(padded[0]!, padded[1], place, share);
  return padded.map((x) => x.subarray(edge, edge + frames));
}
const inRoom = (x: Float32Array, level: number) => {
  const { near, far } = roomed(x, RATE, 0.5, level);
  return { near, spoilt: near.map((v, i) => v + far[i]!) };
};
const gained = (made: Float32Array, { near, spoilt }: ReturnType<typeof inRoom>) =>
  siSdr(made, near) - siSdr(spoilt, near);

describe("weighted prediction error", () => {
  const room = inRoom(speech, 0.05);

  it("takes the tail of a room away, and keeps the level of the voice", () => {
    const [made] = through([room.spoilt]);
    expect(gained(made!, room)).toBeGreaterThan(0.8);
    expect(Math.abs(10 * Math.log10(meanPower(made!) / meanPower(room.near)))).toBeLessThan(1);
  });

  it("takes less where less is asked for, and nothing for nothing", () => {
    const [half] = through([room.spoilt], 0.5);
    const [none] = through([room.spoilt], 0);
    expect(gained(half!, room)).toBeGreaterThan(0.3);
    expect(gained(half!, room)).toBeLessThan(gained(through([room.spoilt])[0]!, room));
    expect(siSdr(none!, room.spoilt)).toBeGreaterThan(100);
  });

  it("leaves what the past does not predict as it is", () => {
    const hiss = noise(9, RATE, -12, 5);
    expect(siSdr(through([hiss])[0]!, hiss)).toBeGreaterThan(18);
  });

  it("works on two channels, each in its own time, and on silence", () => {
    const other = inRoom(
      speech.map((_, i) => speech[Math.max(0, i - 9)]! * 0.7),
      0.05,
    );
    const [left, right] = through([room.spoilt, other.spoilt]);
    expect(gained(left!, room)).toBeGreaterThan(0.5);
    expect(gained(right!, other)).toBeGreaterThan(0.5);
    expect(through([new Float32Array(RATE), new Float32Array(RATE)]).every((x) => x.every((v) => v === 0))).toBe(true);
  });

  it("gives the same for the half of a block as for the whole, however far around it is seen", () => {
    const block = speechLike(40, RATE, 7);
    const edge = Math.ceil(PREDICTION_REACH * RATE);
    const of = (from: number, to: number, around: number) => {
      const part = block.slice(from - around, to + around);
      const place = { first: from - around, from: around, to: around + to - from, heldFrom: 0, heldTo: part.length };
      new WeightedPrediction(SIZE, RATE, 0.05).process(part, undefined, place, 1);
      return part.subarray(around, around + to - from);
    };
    const [from, middle, to] = [12 * RATE, 16 * RATE, 20 * RATE];
    const whole = of(from, to, edge);
    const wider = of(from, to, edge + 3 * RATE);
    const first = of(from, middle, edge);
    expect(siSdr(wider, whole)).toBeGreaterThan(100);
    expect(siSdr(first, whole.subarray(0, middle - from))).toBeGreaterThan(100);
  });
});
