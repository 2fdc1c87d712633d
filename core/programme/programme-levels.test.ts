import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { Measurer } from "../measure";
import { memoryFrames, noise } from "../testing/signals";
import { newFade } from "./fade";
import type { Placeable, StoredPlacement } from "./placement";
import { laneSchema, PLAIN_PROGRAMME, type Lane } from "./programme";
import { programmeLevels, shortTermAt } from "./programme-levels";
import { programmeSource } from "./programme-source";
import { timelineOf } from "./timeline";

const RATE = 8000;
const mono = layoutNamed("mono")!;

interface Part {
  id: string;
  x: Float32Array;
  placement?: StoredPlacement;
}

function measured(x: Float32Array) {
  const measurer = new Measurer({ sampleRate: RATE, layout: mono });
  measurer.process([x]);
  return measurer.result();
}

async function both(parts: Part[], lanes: Lane[] = []) {
  const items: Placeable[] = parts.map(({ id, placement }) => ({ id, placement }));
  const sound = (id: string) => parts.find((part) => part.id === id)!.x;
  const timeline = timelineOf(items, PLAIN_PROGRAMME, (id) => ({
    frames: sound(id).length,
    sampleRate: RATE,
    layout: mono,
  }))!;
  const estimate = programmeLevels(timeline, items, lanes, (id) => {
    const { figures, curves } = measured(sound(id));
    return { momentaryLufs: curves.momentaryLufs.values, truePeakDbtp: figures.truePeakDbtp };
  })!;
  const source = programmeSource({
    timeline,
    items,
    lanes,
    openItem: (id) => memoryFrames([sound(id)], RATE),
    processed: (lane) => lane,
  });
  const [whole] = await source.read(0, timeline.frames);
  return { estimate, truth: measured(whole!) };
}

describe("levels of a programme before it is rendered", () => {
  it("are near what the sum measures: gains, fades, pauses, overlaps, lanes", async () => {
    const { estimate, truth } = await both(
      [
        { id: "a", x: noise(12, RATE, -10, 1), placement: { fadeOut: newFade(4) } },
        { id: "b", x: noise(12, RATE, -16, 2), placement: { gapSeconds: -2, fadeIn: newFade(2), gainDb: 3 } },
        {
          id: "c",
          x: noise(8, RATE, -22, 3),
          placement: {
            gapSeconds: 2,
            envelope: [
              [0, 0],
              [8, -6],
            ],
          },
        },
        { id: "bed", x: noise(10, RATE, -20, 4), placement: { lane: "l", atSeconds: 8 } },
      ],
      [laneSchema.parse({ id: "l", name: "Bed", gainDb: -6 })],
    );
    expect(estimate.integratedLufs!).toBeCloseTo(truth.figures.integratedLufs!, 0);
    expect(Math.abs(estimate.integratedLufs! - truth.figures.integratedLufs!)).toBeLessThan(0.2);
    expect(estimate.loudest).toBe("a");
    expect(estimate.quietest).toBe("c");
    const last = estimate.shortTerm.length - 5;
    const measuredThere = truth.curves.shortTermLufs.values;
    expect(Math.abs(shortTermAt(estimate, last)! - measuredThere[measuredThere.length - 5]!)).toBeLessThan(0.6);
  });
  it("tell the step at a join from one side to the other", async () => {
    const { estimate } = await both([
      { id: "a", x: noise(6, RATE, -20, 1) },
      { id: "b", x: noise(6, RATE, -14, 2), placement: { gapSeconds: 1 } },
    ]);
    expect(estimate.joins[0]!.stepLu!).toBeCloseTo(6, 0);
    expect(estimate.joins[0]!.stopsAtLufs).not.toBeNull();
  });
  it("tell no step by what dies away or comes slowly", async () => {
    const { estimate } = await both([
      { id: "a", x: noise(10, RATE, -20, 1), placement: { fadeOut: newFade(5, "exponential") } },
      { id: "b", x: noise(10, RATE, -20, 2), placement: { gapSeconds: 2, fadeIn: newFade(4, "exponential") } },
    ]);
    expect(Math.abs(estimate.joins[0]!.stepLu!)).toBeLessThan(3);
  });
  it("tell a sound that stops dead, and not one that has died away or goes under the next", async () => {
    const stops = async (placement: StoredPlacement, gapSeconds: number) => {
      const parts = [
        { id: "a", x: noise(6, RATE, -20, 1), placement },
        { id: "b", x: noise(6, RATE, -20, 2), placement: { gapSeconds } },
      ];
      return (await both(parts)).estimate.joins[0]!.stopsAtLufs !== null;
    };
    expect(await stops({}, 1)).toBe(true);
    expect(await stops({ fadeOut: newFade(3, "exponential") }, 1)).toBe(false);
    expect(await stops({}, -1)).toBe(false);
  });
  it("are silent where nothing sounds, and none while an item is not known", () => {
    const items = [{ id: "a" }];
    const timeline = timelineOf(items, PLAIN_PROGRAMME, () => ({ frames: RATE, sampleRate: RATE, layout: mono }))!;
    expect(programmeLevels(timeline, items, [], () => null)).toBeNull();
    const silent = programmeLevels(timeline, items, [], () => ({
      momentaryLufs: new Float32Array(10).fill(-Infinity),
      truePeakDbtp: null,
    }))!;
    expect(silent.integratedLufs).toBeNull();
    expect(silent.truePeakDbtp).toBeNull();
  });
});
