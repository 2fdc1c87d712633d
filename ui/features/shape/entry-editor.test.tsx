import { act, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { layoutNamed, type Layout } from "@core/audio/layout";
import { newChainEntry, PROCESSORS, type ChainEntry } from "@core/processors";
import { Ring } from "@playback/ring";
import { useCurrentItem } from "@ui/state/current-item";
import { engine } from "@ui/state/listening-engine";
import { useWorkspace } from "@ui/state/workspace-store";
import { inWorkspace } from "../../../tests/components/current-item";
import { ChainStrip } from "./chain-strip";
import { EntryEditor } from "./entry-editor";
import { EntrySide } from "./entry-side";
import { useEntry } from "./visualisers/use-entry";

afterEach(() => {
  engine().ring = undefined;
  useWorkspace.setState({ monitorSource: "now", step: null });
});

function InHand({ layout }: { layout?: Layout | undefined }) {
  const { item } = useCurrentItem();
  const inHand = useEntry(item!.chain[0]!, item!.id);
  return (
    <>
      <ChainStrip chosen="x" onChoose={vi.fn()} />
      <EntryEditor inHand={inHand} layout={layout} />
      <EntrySide inHand={inHand} onChoose={vi.fn()} />
    </>
  );
}
const shown = (type: string, settings: object = {}, layout?: Layout) =>
  inWorkspace(<InHand layout={layout} />, {
    prepare: [{ type: "addProcessor", item: "item-1", entry: { ...newChainEntry(type, "x"), ...settings } as never }],
  });

/** An engine that is heard with a chain, as its ring tells it. */
function heard(entry: ChainEntry, reductions: number[]): void {
  const ring = Ring.create(2);
  engine().ring = ring;
  ring.playing = true;
  engine().set({
    plan: {
      main: { url: null, repairs: [], clips: null, chain: [entry], frozen: 0, gainDb: 0 },
      subtract: null,
    },
  });
  reductions.forEach((db, place) => ring.setReduction(place, db));
}

describe("the editor of a processor", () => {
  it.each(PROCESSORS.map(({ id, name }) => [id, name] as const))(
    "of %s opens with the drawing that it asks for",
    (id, name) => {
      const { unmount } = shown(id);
      const editor = screen.getByLabelText(`${name} settings`);
      const { visualiser } = PROCESSORS.find((definition) => definition.id === id)!;
      if (visualiser?.kind === "response")
        expect(within(editor).getByLabelText(`Frequency response of the ${name.toLowerCase()}`)).toBeTruthy();
      if (visualiser?.kind === "transfer curve")
        expect(within(editor).getByLabelText(`Transfer curve of the ${name.toLowerCase()}`)).toBeTruthy();
      unmount();
    },
  );

  it("says what works on two sides only where there are none", () => {
    const said = () => screen.queryByText(/Its sides are those of a stereo signal/);
    const mono = shown("width");
    expect(said()).not.toBeNull();
    mono.unmount();
    shown("width", {}, layoutNamed("stereo"));
    expect(said()).toBeNull();
  });

  it("tells the gain reduction of each band while it is heard, and nothing at rest", async () => {
    shown("multiband");
    const bars = within(screen.getByTestId("live-reduction")).getAllByRole("meter");
    expect(bars.map((bar) => bar.getAttribute("aria-label"))).toEqual([
      "Gain reduction of band 1, dB",
      "Gain reduction of band 2, dB",
      "Gain reduction of band 3, dB",
    ]);
    expect(bars[1]!.textContent).toContain("—");
    act(() => heard(newChainEntry("multiband", "x"), [1.5, 4, 0]));
    await waitFor(() => expect(bars[1]!.textContent).toContain("−4.0"));
    expect(bars[2]!.textContent).toContain("0.0");
    await waitFor(() => expect(screen.getByTestId("card-reduction").textContent).toBe("−4.0 dB"));
  });

  it("says nothing on its card before it was measured: an estimate for each would hold a slider up", () => {
    shown("compressor", { thresholdDb: -60, ratio: 20 });
    expect(screen.getByTestId("card-reduction").textContent).toBe("—");
  });

  it("has its detector heard where it has one, and all of it again", async () => {
    const user = userEvent.setup();
    const { unmount } = shown("de-esser");
    await user.click(screen.getByRole("button", { name: "detector" }));
    expect(useWorkspace.getState()).toMatchObject({ monitorSource: "detector", step: "x" });
    await user.click(screen.getByRole("button", { name: "all" }));
    expect(useWorkspace.getState()).toMatchObject({ monitorSource: "now", step: null });
    unmount();
    shown("limiter");
    expect(screen.queryByRole("button", { name: "detector" })).toBeNull();
  });

  it("shows the edges of a de-esser's band as fields that are kept", async () => {
    const user = userEvent.setup();
    const { document } = shown("de-esser");
    const field = screen.getByRole("textbox", { name: /^To/ });
    await user.clear(field);
    await user.type(field, "8000{Enter}");
    expect(document().items[0]!.chain[0]!["toHz"]).toBe(8000);
  });
});
