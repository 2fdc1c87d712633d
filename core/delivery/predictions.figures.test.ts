/** Every processor says what it will do to the figures: near enough to choose by, on speech and on music. */
import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import type { Planar } from "../audio/units";
import { Measurer } from "../measure";
import { newChainEntry, PROCESSORS } from "../processors";
import { ChainStage } from "../render/chain-stage";
import { musicLike, speechLike } from "../testing/degraded";
import { joined, noise } from "../testing/signals";
import { predictNow } from "./predict-chain";
import { check } from "./compliance";
import { predictDelivery } from "./predict-delivery";
import { fileFacts, newFormat } from "./recipe";
import { remediesFor, type RemedyContext } from "./remedies";
import { SPECS } from "./specs";

const RATE = 48_000;
const SECONDS = 12;
const FORMAT = { sampleRate: RATE, layout: layoutNamed("stereo")! };
const scaled = (x: Float32Array, gain: number) => x.map((v) => v * gain);

/** Two sides that are alike and not the same, over a floor. */
function stereo(x: Float32Array): Planar {
  const floors = [noise(SECONDS, RATE, -62, 5), noise(SECONDS, RATE, -62, 6)];
  return floors.map((floor, side) => x.slice(0, SECONDS * RATE).map((v, i) => v * (side ? 0.8 : 1) + floor[i]!));
}
const PROGRAMMES: Record<string, Planar> = {
  speech: stereo(scaled(speechLike(SECONDS, RATE, 1), 0.5)),
  music: stereo(scaled(musicLike(SECONDS, RATE, 2), 0.7)),
};

function measured(block: Planar) {
  const measurer = new Measurer(FORMAT);
  measurer.process(block);
  return measurer.result();
}
const known = Object.fromEntries(Object.entries(PROGRAMMES).map(([name, block]) => [name, measured(block)]));

function through(block: Planar, entry: ReturnType<typeof newChainEntry>) {
  const stage = new ChainStage([entry], FORMAT);
  const parts = [stage.push(block.map((x) => x.slice())), stage.finish()];
  return measured([0, 1].map((c) => joined(...parts.flatMap((part) => part[c] ?? [])))).figures;
}

/** How far a prediction may be off, LU and dB; where it is an estimate of something less certain, it is said why. */
const LOUDNESS_LU = 1.5;
const PEAK_DB = 3;
const WIDER: Record<string, { loudness?: number; peak?: number; why: string }> = {
  equaliser: { peak: 5, why: "phases move crests" },
  filter: { peak: 5, why: "phases move crests" },
  enhancer: { peak: 4, why: "harmonics add to crests or not" },
  multiband: { loudness: 2.5, peak: 5, why: "bands are told from thirds of an octave" },
  "tone-match": { peak: 5, why: "phases move crests" },
  "disc-equalisation": {
    peak: 13,
    why: "it lifts what lies below the lowest third by up to 30 dB, or what lies at the top",
  },
  saturation: { peak: 4, why: "oversampled crests" },
};

describe.each(Object.keys(PROGRAMMES))("predictions on %s", (name) => {
  const { figures, curves } = known[name]!;
  const cases = PROCESSORS.filter(({ id }) => id !== "unavailable").flatMap(({ id, presets }) =>
    [{ name: "default", settings: {} }, ...presets].map((preset): [string, string, object] => [
      id,
      preset.name,
      preset.settings,
    ]),
  );
  it.each(cases)("%s, %s", (id, _, settings) => {
    const entry = { ...newChainEntry(id, "p"), ...settings };
    const after = through(PROGRAMMES[name]!, entry);
    const now = predictNow(figures, curves, [entry]);
    const { loudness = LOUDNESS_LU, peak = PEAK_DB } = WIDER[id] ?? {};
    expect(Math.abs(now.integratedLufs! - after.integratedLufs!)).toBeLessThan(loudness);
    expect(Math.abs(now.truePeakDbtp! - after.truePeakDbtp!)).toBeLessThan(peak);
  });
});

describe("remedies", () => {
  const contexts = SPECS.flatMap((spec) =>
    Object.entries(known).map(([name, { figures, curves }]): [string, string, RemedyContext] => [
      spec.id,
      name,
      {
        figures,
        curves,
        chain: [],
        own: 0,
        spec,
        format: newFormat(),
        layout: "stereo",
        known: null,
        albumGainDb: null,
      },
    ]),
  );
  const missed = ({ figures, curves, chain, spec, format }: RemedyContext) => {
    const { figures: after } = predictDelivery(figures, curves, chain, spec);
    const { limits, fileRequirements } = check(spec, after, fileFacts(format, figures.sampleRate, "stereo"));
    return (
      limits.filter(({ limit, status }) => limit.required && status === "fail").length +
      fileRequirements.filter(({ met }) => !met).length
    );
  };
  it.each(contexts)("for %s on %s are different ones, and leave no more outside than there was", (_, __, context) => {
    const remedies = remediesFor(context);
    expect(remedies.length).toBeLessThanOrEqual(6);
    expect(new Set(remedies.map(({ id, title }) => `${id} ${title}`)).size).toBe(remedies.length);
    for (const { entries = [], steps, format = context.format, passes } of remedies) {
      const left = missed({ ...context, chain: [...context.chain, ...entries], format });
      expect(left).toBeLessThanOrEqual(missed(context));
      // What repairs do to the floor is not told by the chain.
      if (passes && !steps) expect(left).toBe(0);
    }
  });
  it("are offered where something is outside, and none under a master that passes with ease", () => {
    const offered = contexts.filter(([, , context]) => missed(context) > 0 && remediesFor(context).length > 0);
    expect(offered.length).toBeGreaterThan(0);
    const [, , context] = contexts.find(([id, name]) => id === "ebu-r128" && name === "music")!;
    expect(missed(context)).toBe(0);
    expect(remediesFor(context)).toEqual([]);
  });
});
