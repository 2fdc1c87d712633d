import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { Measurer, type Measured } from "@core/measure";
import { layoutNamed, type Layout } from "@core/audio/layout";
import { noise, sine } from "@core/testing/signals";
import type { MeasureRequest } from "@playback/measure.worker";
import { useCurrentItem } from "@ui/state/current-item";
import { inWorkspace } from "../../../tests/components/current-item";
import { ChannelsView } from "./channels-view";
import { SpectrumView } from "./spectrum-view";
import { useMeasured } from "./use-measured";

const RATE = 48_000;
const FIVE_ONE = layoutNamed("5.1")!;
/** L and R alike, the LFE their opposite, the rest apart. */
const left = noise(6, RATE, -20, 1);
const channels = [
  left,
  left,
  noise(6, RATE, -20, 2),
  left.map((v) => -v),
  sine(3000, -20, 6, RATE),
  noise(6, RATE, -60, 3),
];

const requests: MeasureRequest[] = [];
vi.mock("@ui/workers/measuring", () => ({
  measureInBrowser: (request: MeasureRequest) => {
    requests.push(request);
    const picked = request.part?.channels ?? FIVE_ONE.speakers.map((_, c) => c);
    const layout: Layout = request.part?.channels
      ? { ...FIVE_ONE, speakers: picked.map((c) => FIVE_ONE.speakers[c]!) }
      : request.layout!;
    return Promise.resolve(
      measured(
        picked.map((c) => channels[c]!),
        layout,
      ),
    );
  },
}));
function measured(block: Float32Array[], layout: Layout): Measured {
  const measurer = new Measurer({ sampleRate: RATE, layout });
  measurer.process(block);
  return measurer.result();
}

beforeEach(() => {
  requests.length = 0;
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe() {}
      disconnect() {}
      unobserve() {}
    },
  );
});

function View({ of }: { of: "channels" | "spectrum" }) {
  const { facts } = useCurrentItem();
  return facts && <Stretch of={of} facts={facts} />;
}
function Stretch({
  of,
  facts,
}: {
  of: "channels" | "spectrum";
  facts: NonNullable<ReturnType<typeof useCurrentItem>["facts"]>;
}) {
  const stretch = useMeasured(facts);
  const own = measured(channels, FIVE_ONE);
  const whole = { ...stretch, ...own };
  return of === "channels" ? (
    <ChannelsView facts={facts} stretch={whole} />
  ) : (
    <SpectrumView facts={facts} stretch={whole} />
  );
}
const shown = (of: "channels" | "spectrum") =>
  inWorkspace(<View of={of} />, { channels: 6, source: { layout: FIVE_ONE } });

describe("pairs of channels", () => {
  const row = (pair: string) => screen.getByText(pair).closest("div")!;

  it("tell level-aware and plain correlation side by side", () => {
    shown("channels");
    expect(row("L – R").textContent).toMatch(/\+1\.00\+1\.00$/);
    // So far below that it is not judged, though it sounds.
    expect(row("L – Rs").textContent).toMatch(/not judged[+−]?0\.\d\d$/);
    expect(screen.getByText("level-aware")).toBeTruthy();
  });

  it("leave the LFE out until it is asked for, and then measure it as any other", async () => {
    shown("channels");
    expect(screen.queryByText("L – LFE")).toBeNull();
    await userEvent.setup().click(screen.getByLabelText("LFE"));
    await waitFor(() => expect(row("L – LFE").textContent).toContain("−1.00"));
    expect(requests[0]!.layout!.speakers.some(({ lfe }) => lfe)).toBe(false);
  });
});

describe("the long-term spectrum", () => {
  const tilt = () => screen.getByText(/dB per octave/).textContent!;

  it("is of all channels, of a group, or of one, measured by itself", async () => {
    const user = userEvent.setup();
    shown("spectrum");
    const select = screen.getByLabelText("Channels that the spectrum is of");
    expect(
      within(select)
        .getAllByRole("option")
        .map(({ textContent }) => textContent),
    ).toEqual(["all channels", "front", "surrounds", "L", "R", "C", "LFE", "Ls", "Rs"]);
    const whole = tilt();
    await user.selectOptions(select, "surrounds");
    await waitFor(() => expect(tilt()).toContain("surrounds"));
    expect(requests[0]!.part).toEqual({ channels: [4, 5] });
    await user.selectOptions(select, "LFE");
    await waitFor(() => expect(tilt()).toContain("LFE"));
    await user.selectOptions(select, "all channels");
    expect(tilt()).toBe(whole);
  });
});
