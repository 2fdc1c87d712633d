import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { newFormat } from "@core/delivery/recipe";
import { layoutNamed } from "@core/audio/layout";
import type { MeasureRequest } from "@playback/measure.worker";
import { inWorkspace } from "../../tests/components/current-item";
import { useCurrentItem } from "./current-item";
import { useStripFigures } from "./use-strip-figures";

const requests: MeasureRequest[] = [];
let answer: Promise<unknown> = Promise.resolve();
vi.mock("@ui/workers/measuring", () => ({
  measureInBrowser: (request: MeasureRequest) => {
    requests.push(request);
    return answer;
  },
}));
afterEach(() => void (requests.length = 0));

function Strip() {
  const { chainFigures } = useCurrentItem();
  const { figures, fold } = useStripFigures();
  return (
    <p data-testid="strip">
      {fold ? `${fold.layout} ${fold.isMeasured ? "measured" : "asked"}` : "programme"}{" "}
      {((figures?.integratedLufs ?? 0) - (chainFigures?.integratedLufs ?? 0)).toFixed(2)}
    </p>
  );
}
const strip = () => screen.getByTestId("strip").textContent;
const FOLDED = { id: "folded", spec: "immersive-18", format: newFormat() };
const shown = (layout: string, children = <Strip />) =>
  inWorkspace(children, {
    channels: layoutNamed(layout)!.speakers.length,
    source: { layout: layoutNamed(layout)! },
    prepare: [
      { type: "addDeliverable", deliverable: FOLDED },
      { type: "setInForce", deliverable: FOLDED.id },
    ],
  });

describe("the figures in the strip", () => {
  it("are those of the fold-down that the spec in force measures, once it is measured", async () => {
    let give: (measured: unknown) => void = () => undefined;
    answer = new Promise((resolve) => void (give = resolve));
    const Known = () => <p data-testid="known">{useCurrentItem().facts?.source.figures?.integratedLufs ?? 0}</p>;
    shown(
      "7.1.4",
      <>
        <Strip />
        <Known />
      </>,
    );
    expect(strip()).toBe("5.1 asked 0.00");
    const integratedLufs = Number(screen.getByTestId("known").textContent);
    expect(requests[0]!.layout!.name).toBe("5.1");
    expect(requests[0]!.fold).toHaveLength(6);
    give({
      figures: {
        integratedLufs: integratedLufs + 1.25,
        momentaryMaxLufs: null,
        shortTermMaxLufs: null,
        loudnessRangeLu: null,
      },
    });
    await waitFor(() => expect(strip()).toBe("5.1 measured 1.25"));
  });

  it("are the programme's own where it has no more channels than the fold", () => {
    shown("stereo");
    expect(strip()).toBe("programme 0.00");
    expect(requests).toEqual([]);
  });
});
