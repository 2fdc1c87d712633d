import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { ChainStage } from "../render/chain-stage";
import { layoutNamed } from "../audio/layout";
import { framesOf, slicePlanar, type Planar } from "../audio/units";
import { joined, noise, sameBits } from "../testing/signals";
import { chainSchema, newChainEntry, PROCESSORS, processorNamed, settingsOf, type ChainEntry } from ".";
import { defaultsOf, type Parameter, type Row, type Setting } from "../parameters/parameter";

const FORMAT = { sampleRate: 48000, layout: layoutNamed("stereo")! };

function through(entry: ChainEntry, block: Planar, sizes: () => number): Planar {
  const stage = new ChainStage([entry], FORMAT);
  const parts: Planar[] = [];
  for (let at = 0; at < framesOf(block);) {
    const end = Math.min(framesOf(block), at + sizes());
    parts.push(stage.push(slicePlanar(block, at, end)));
    at = end;
  }
  parts.push(stage.finish());
  return block.map((_, c) => joined(...parts.flatMap((part) => (part[c] ? [part[c]] : []))));
}

/** Settings anywhere in their ranges, on their steps or not. */
const anySettings = (type: string): fc.Arbitrary<ChainEntry> =>
  fc
    .record(
      Object.fromEntries(
        Object.entries(processorNamed(type).parameters).map(([name, parameter]) => [name, anySetting(parameter)]),
      ),
    )
    .map((settings) => ({ type, bypass: false, ...settings }));

function anySetting(parameter: Parameter): fc.Arbitrary<Setting> {
  switch (parameter.kind) {
    case "switch":
      return fc.boolean();
    case "choice":
      return fc.constantFrom(...parameter.options.map(({ value }) => value));
    case "number":
      return fc.double({ min: parameter.min, max: parameter.max, noNaN: true });
    case "rows": {
      const row = fc.record(
        Object.fromEntries(Object.entries(parameter.columns).map(([name, column]) => [name, anySetting(column)])),
      ) as fc.Arbitrary<Row>;
      return fc.array(row, { minLength: parameter.least, maxLength: Math.min(3, parameter.most) });
    }
    case "points": {
      const within = ({ min, max }: { min: number; max: number }) => fc.double({ min, max, noNaN: true });
      return fc
        .uniqueArray(
          fc.tuple(within({ min: parameter.x.min, max: Math.min(parameter.x.max, 30_000) }), within(parameter.y)),
          {
            maxLength: 5,
            selector: ([x]) => x,
          },
        )
        .map((points) => points.sort(([a], [b]) => a - b));
    }
  }
}

describe.each(PROCESSORS.map((definition) => [definition.id, definition] as const))(
  "processor %s",
  (id, definition) => {
    const quiet = [noise(0.1, 48000, -40, 1), noise(0.1, 48000, -40, 2)];
    const loud = [noise(0.1, 48000, -1, 3), noise(0.1, 48000, -3, 4)];

    it("has defaults inside its ranges, and help for everything", () => {
      expect(chainSchema.parse([newChainEntry(id, "x")])[0]).toMatchObject(defaultsOf(definition.parameters));
      for (const parameter of Object.values(definition.parameters)) {
        expect(parameter.help.length).toBeGreaterThan(10);
        expect(parameter.label).not.toBe("");
        if (parameter.kind === "number") {
          expect(parameter.default).toBeGreaterThanOrEqual(parameter.min);
          expect(parameter.default).toBeLessThanOrEqual(parameter.max);
          if (parameter.scale === "log") expect(parameter.min).toBeGreaterThan(0);
        }
      }
    });

    it("gives the same bits at neutral settings", () => {
      const given = definition.neutral ? loud : quiet;
      expect(
        sameBits(
          through({ ...newChainEntry(id, "x"), ...definition.neutral }, given, () => 4096),
          given,
        ),
      ).toBe(true);
    });

    it("gives silence for silence", () => {
      const silence = [new Float32Array(9600), new Float32Array(9600)];
      const out = through(newChainEntry(id, "x"), silence, () => 4096);
      expect(out.every((channel) => channel.every((v) => v === 0))).toBe(true);
    });

    it("has presets that its own schema takes, each with a line of when to use it", () => {
      for (const { name, use, settings } of definition.presets) {
        expect(name.length).toBeGreaterThan(1);
        expect(use.length).toBeGreaterThan(10);
        expect(chainSchema.safeParse([{ ...newChainEntry(id, "x"), ...settings }]).error).toBeUndefined();
      }
    });

    it("works on a side or the middle alone, in mono and in twelve channels", () => {
      for (const sides of "sides" in definition.parameters ? ["left", "mid", "side"] : []) {
        const out = through({ ...newChainEntry(id, "x"), sides }, loud, () => 1000);
        if (sides === "left") expect(sameBits([out[1]!], [loud[1]!])).toBe(true);
        expect(out[0]!.every(Number.isFinite)).toBe(true);
      }
      for (const name of ["mono", "7.1.4"]) {
        const layout = layoutNamed(name)!;
        const block = layout.speakers.map((_, c) => noise(0.02, 48000, -6, c + 1));
        const stage = new ChainStage([newChainEntry(id, "x")], { sampleRate: 48000, layout });
        expect([stage.push(block), stage.finish()].flat().every((x) => x.every(Number.isFinite))).toBe(true);
      }
    });

    it("gives the same bits when it is bypassed", () => {
      expect(
        sameBits(
          through({ ...newChainEntry(id, "x"), bypass: true }, loud, () => 1000),
          loud,
        ),
      ).toBe(true);
    });

    it("does not depend on block sizes, whatever its settings", () => {
      fc.assert(
        fc.property(
          anySettings(id),
          fc.array(fc.integer({ min: 1, max: 3000 }), { minLength: 4, maxLength: 8 }),
          (entry, sizes) => {
            let turn = 0;
            const whole = through(entry, loud, () => 1e9);
            return sameBits(
              through(entry, loud, () => sizes[turn++ % sizes.length]!),
              whole,
            );
          },
        ),
        { numRuns: 25 },
      );
    });

    it("keeps the length and never gives a number that is none", () => {
      fc.assert(
        fc.property(anySettings(id), (entry) => {
          const out = through(entry, loud, () => 2048);
          return out.every((channel) => channel.length === framesOf(loud) && channel.every((v) => Number.isFinite(v)));
        }),
        { numRuns: 25 },
      );
    });

    it("leaves the block that it is given alone", () => {
      const copy = loud.map((channel) => channel.slice());
      through(newChainEntry(id, "x"), loud, () => 777);
      expect(sameBits(loud, copy)).toBe(true);
    });

    it("says in a few words what it is set to", () => {
      const words = definition.summary(settingsOf(newChainEntry(id, "x")));
      expect(words).not.toMatch(/NaN|undefined/);
      expect(words.length).toBeLessThan(40);
    });

    it("predicts no change where it makes none", () => {
      const levels = {
        peakDb: Float32Array.of(-60, -50),
        momentaryLufs: Float32Array.of(-70, -60),
        intersampleDb: 0.2,
      };
      const after = definition.predict(levels, settingsOf({ ...newChainEntry(id, "x"), ...definition.neutral }));
      expect(Array.from(after.peakDb)).toEqual(Array.from(levels.peakDb));
      expect(Array.from(after.momentaryLufs)).toEqual(Array.from(levels.momentaryLufs));
    });
  },
);

describe("chains", () => {
  it("take their latency back, however long they are", () => {
    const chain = Array.from({ length: 5 }, (_, n) => newChainEntry(n % 2 ? "gain" : "limiter", `p${n}`));
    const stage = new ChainStage(chain, FORMAT);
    const block = [noise(0.05, 48000, -30, 1), noise(0.05, 48000, -30, 2)];
    const parts = [stage.push(block), stage.finish()];
    expect(
      sameBits(
        [0, 1].map((c) => joined(parts[0]![c]!, parts[1]![c]!)),
        block,
      ),
    ).toBe(true);
    expect(stage.latency).toBeGreaterThan(0);
  });
  it("refuse a processor that there is not, by name of those that there are", () => {
    expect(() => processorNamed("polisher")).toThrow(/there are: gain, .*limiter/);
    expect(chainSchema.safeParse([{ type: "polisher" }]).success).toBe(false);
    expect(chainSchema.safeParse([{ type: "gain", gainDb: 0, colour: "red" }]).success).toBe(false);
    expect(chainSchema.safeParse([{ type: "gain", gainDb: "loud" }]).success).toBe(false);
    expect(chainSchema.safeParse(Array.from({ length: 49 }, () => ({ type: "gain" }))).success).toBe(false);
  });
  it("tell how much each limiter takes off", () => {
    const stage = new ChainStage([{ type: "limiter", id: "here", bypass: false, ceilingDbtp: -12 }], FORMAT);
    stage.push([noise(0.2, 48000, -2, 1), noise(0.2, 48000, -2, 2)]);
    const { here = [] } = stage.takeGainReduction();
    expect(here![0]).toBeGreaterThan(8);
    expect(stage.takeGainReduction()["here"]).toEqual([0]);
    const apart = new ChainStage([{ type: "limiter", id: "two", bypass: false, bassApart: true }], FORMAT);
    expect(apart.takeGainReduction()["two"]).toEqual([0, 0]);
  });
});
