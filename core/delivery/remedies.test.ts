import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { Measurer } from "../measure";
import { noise } from "../testing/signals";
import { check } from "./compliance";
import { predictDelivery } from "./predict-delivery";
import { newFormat } from "./recipe";
import { noiseToTry, remediesFor, type RemedyContext } from "./remedies";
import { specNamed } from "./specs";

const RATE = 44_100;
const spec = specNamed("audiobook-retail");

/** Four seconds at a voice's level over a floor that lies 12 dB above what the shop allows. */
function recording(floorDb = -48) {
  const block = noise(6, RATE, floorDb, 1);
  noise(4, RATE, -15, 2).forEach((v, i) => (block[i + RATE]! += v));
  const measurer = new Measurer({ sampleRate: RATE, layout: layoutNamed("mono")! });
  measurer.process([block]);
  return measurer.result();
}
const context = (measured = recording()): RemedyContext => ({
  ...measured,
  chain: [],
  own: 0,
  spec,
  format: newFormat({ container: "mp3", sampleRate: RATE, bitrateKbps: 192 }),
  layout: "mono",
});
const verdictOf = ({ figures, curves }: RemedyContext) =>
  check(spec, predictDelivery(figures, curves, [], spec).figures);
const noiseWays = (lowersDb: number) => {
  const of = context();
  const triedNoise = noiseToTry(spec, verdictOf(of)).map((step) => ({ step, lowersDb }));
  return remediesFor({ ...of, triedNoise }).filter(({ steps }) => steps);
};

describe("noise reduction as a remedy", () => {
  it("is to be tried where the floor is over its limit, and nowhere else", () => {
    expect(noiseToTry(spec, verdictOf(context())).map((step) => step["maxReductionDb"])).toEqual([8, 14, 24]);
    expect(noiseToTry(spec, verdictOf(context(recording(-85))))).toEqual([]);
    const r128 = specNamed("ebu-r128");
    const { figures, curves } = recording();
    expect(noiseToTry(r128, check(r128, predictDelivery(figures, curves, [], r128).figures))).toEqual([]);
  });
  it("is not offered before it was tried on the sound", () => {
    expect(remediesFor(context()).filter(({ steps }) => steps)).toEqual([]);
  });
  it("promises what it did when it was tried, not its setting", () => {
    const [little] = noiseWays(4);
    expect(little!.title).toMatch(/floor −4\.0 dB$/);
    expect(little).toMatchObject({ passes: false });
    expect(little!.reaches).toMatch(/: \d outside$/);
    // Nothing firmer is offered than what is enough.
    expect(noiseWays(30).map(({ passes }) => passes)).toEqual([true]);
  });
  it("tells what it comes to in the figure that the spec goes by", () => {
    expect(noiseWays(30)[0]!.reaches).toMatch(/ dBFS.*: inside$/);
  });
});
