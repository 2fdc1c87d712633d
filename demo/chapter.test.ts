import { beforeAll, describe, expect, it } from "vitest";
import { featuresOf, type Features } from "@core/events/speech-features";
import type { DetectedEvent } from "@core/events/event";
import { retakeCuts, retakeMarks } from "@core/events/retakes";
import { breaths, coughs, longPauses, plosives } from "@core/events/speech-events";
import { memoryFrames } from "@core/testing/signals";
import { CHAPTER_RATE, makeChapter, type ChapterFaults } from "./chapter";

/** How many were found, and how many of what was found are there. */
function found(places: DetectedEvent[], seconds: number[]) {
  const hit = (at: number) =>
    places.find(({ start, end }) => start / CHAPTER_RATE < at + 0.3 && end / CHAPTER_RATE > at);
  return { recall: seconds.filter(hit).length / seconds.length, count: places.length };
}

describe("the chapter's faults", () => {
  let features: Features;
  let faults: ChapterFaults;
  beforeAll(async () => {
    const chapter = await makeChapter(new URL("speech", import.meta.url).pathname);
    faults = chapter.faults;
    features = await featuresOf(memoryFrames(chapter.block, CHAPTER_RATE));
  });
  it("are found: every retake mark, breath, cough and blow of air, and nothing else", () => {
    const of = (places: DetectedEvent[], seconds: number[]) =>
      expect(found(places, seconds)).toEqual({ recall: 1, count: seconds.length });
    of(retakeMarks(features), faults.retakes);
    of(breaths(features), faults.breaths);
    of(coughs(features), faults.coughs);
    of(plosives(features), faults.plosives);
    expect(longPauses(features, 3)).toHaveLength(2);
  });
  it("include three retakes, and the likeliest cut joins the same words", () => {
    for (const mark of retakeMarks(features)) {
      const [best, second] = retakeCuts(features, mark);
      expect(best!.alike).toBeGreaterThan(0.55);
      expect(best!.alike).toBeGreaterThan((second?.alike ?? 0) + 0.1);
      expect(best!.start).toBeLessThan(mark.start);
      expect(best!.end).toBeGreaterThanOrEqual(mark.end);
    }
  });
});
