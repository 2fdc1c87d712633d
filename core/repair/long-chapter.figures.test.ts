import { describe, expect, it } from "vitest";
import { editListSource } from "../edit-list/edit-list-source";
import { replaced } from "../edit-list/edits";
import { recordingClip, type Clip } from "../edit-list/clip";
import { converted, conversionSchema } from "../convert/conversion";
import type { FrameSource } from "../audio/frame-source";
import { featuresOf } from "../events/speech-features";
import { stream } from "../audio/stage";
import { layoutForChannels } from "../audio/layout";
import { framesOf } from "../audio/units";
import { speechLike } from "../testing/degraded";
import { newRepairStep } from ".";
import { repairedSource } from "./repaired-source";
import { matchTemplate } from "./template-matching";

const RATE = 8000;
const HOURS = 2;
const minute = speechLike(60, RATE, 3);

/** Two hours of a minute again and again, none of which is kept. */
const chapter: FrameSource = {
  sampleRate: RATE,
  channels: 1,
  frames: HOURS * 3600 * RATE,
  async read(start, count) {
    const out = new Float32Array(Math.max(0, Math.min(count, this.frames - start)));
    for (let at = 0; at < out.length;) {
      const from = (start + at) % minute.length;
      const part = minute.subarray(from, from + out.length - at);
      out.set(part, at);
      at += part.length;
    }
    return [out];
  },
};

const steps = [
  { ...newRepairStep("region-gain", "a"), gainDb: -6 },
  { ...newRepairStep("gain-envelope", "b"), learned: [{ frame: 9 * RATE, gainDb: 3 }] },
];

describe("a chapter of two hours", () => {
  it("is read through repairs and a thousand cuts in memory that does not grow with it", async () => {
    let clips: Clip[] = [recordingClip(0, chapter.frames)];
    for (let cut = 999; cut >= 0; cut--) clips = replaced(clips, cut * 7 * RATE, cut * 7 * RATE + 1000);
    expect(clips).toHaveLength(1000);
    const item = editListSource(repairedSource(chapter, steps, { content: "" }), clips);
    // Of this thread alone: other tests work in the same process.
    const held = () => {
      const { heapUsed, arrayBuffers } = process.memoryUsage();
      return heapUsed + arrayBuffers;
    };
    const before = held();
    let [read, most] = [0, 0];
    await stream(item, [], (block) => {
      read += framesOf(block);
      most = Math.max(most, held() - before);
    });
    expect(read).toBe(chapter.frames - 1000 * 1000);
    // All of it would be 230 MB, and each step would hold it once more.
    expect(most).toBeLessThan(200e6);
  });

  const stopped = { aborted: false };
  const stop = () => void (stopped.aborted = true);
  it.each([
    [
      "being rendered",
      () => stream(repairedSource(chapter, steps, { content: "" }), [], stop, { cancellation: stopped }),
    ],
    ["being looked through", () => featuresOf(chapter, { cancellation: stopped, onProgress: stop })],
    [
      "being searched",
      () =>
        matchTemplate(
          chapter,
          { start: 0, end: RATE, lowHz: 500, highHz: 3000 },
          { least: 0.8, cancellation: stopped, onProgress: stop },
        ),
    ],
    [
      "being converted",
      async () => {
        const conversion = conversionSchema.parse({ tempo: 1.5 });
        const made = converted(chapter, layoutForChannels(1), conversion, { cancellation: stopped, onProgress: stop });
        for await (const block of made.blocks) void block;
      },
    ],
  ])("stops at once while it is %s", async (_, work) => {
    stopped.aborted = false;
    await expect(work()).rejects.toThrow("Cancelled.");
  });
});
