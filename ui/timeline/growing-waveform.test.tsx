import { act, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import { Measurer } from "@core/measure";
import { SKETCH_PARTS, WaveformSketch } from "@core/measure/waveform-sketch";
import { layoutNamed } from "@core/audio/layout";
import type { Source } from "@core/project/views";
import { noise } from "@core/testing/signals";
import { useJobProgress } from "@ui/api/server-events";
import { fileKey, useLocalFigures } from "@ui/workers/local-figures";
import { inWorkspace } from "../../tests/components/current-item";
import { GrowingWaveform, measuredPeaks } from "./growing-waveform";

const source = { hash: "c".repeat(64), name: "Reed.wav", bytes: 4711, state: "preparing" } as Source;
const x = noise(4, 48_000, -6, 1);
const sketchTo = (share: number) => {
  const sketch = new WaveformSketch(x.length);
  sketch.process([x.subarray(0, share * x.length)], share * x.length);
  return sketch.text();
};
const told = (fraction: number) =>
  act(() =>
    useJobProgress.setState({
      progress: {
        [source.hash]: { stage: "reading", fraction, secondsLeft: 90, sketch: sketchTo(fraction) },
      },
    }),
  );
const known = () => Number(/(\d+) % known/.exec(screen.getByRole("img").getAttribute("aria-label")!)![1]);

afterEach(() => {
  useJobProgress.setState({ progress: {} });
  useLocalFigures.setState({ figures: {} });
});

describe("a recording that is being read", () => {
  it("shows its outline as far as the server has read it, and how long it takes", () => {
    inWorkspace(<GrowingWaveform source={source} />);
    expect(known()).toBe(0);
    told(0.25);
    expect(known()).toBe(25);
    expect(screen.getByText(/“Reed.wav” is being read: 25 %/)).toBeTruthy();
    told(0.5);
    expect(known()).toBe(50);
  });

  it("shows what this page has measured by itself where that is more", () => {
    const measurer = new Measurer({ sampleRate: 48_000, layout: layoutNamed("mono")! });
    measurer.process([x.subarray(0, 3 * 48_000)]);
    const measured = measurer.result();
    inWorkspace(<GrowingWaveform source={source} />);
    told(0.25);
    act(() =>
      useLocalFigures.setState({ figures: { [fileKey(source)]: { fraction: 0.75, measured, problem: null } } }),
    );
    expect(known()).toBe(75);
    const peaks = measuredPeaks(measured, 0.75);
    expect(peaks).toHaveLength(0.75 * SKETCH_PARTS);
    expect(Math.min(...peaks)).toBeGreaterThan(0.3);
    expect(Math.max(...peaks)).toBeLessThan(0.51);
  });
});
