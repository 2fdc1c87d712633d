import { act, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { newChainEntry } from "@core/processors";
import { newRepairStep } from "@core/repair";
import type { Command } from "@core/project/commands";
import { processedItem } from "@core/project/item-render-inputs";
import { knownRecordings } from "@core/project/views";
import { answering } from "../../tests/components/answers";
import { inWorkspace, measuredFigures, OVERVIEW } from "../../tests/components/current-item";
import { useCurrentItem } from "./current-item";
import { predictableOf } from "@core/project/known-items";
import { useKnownFigures } from "./use-known-figures";

afterEach(() => vi.useRealTimers());

const compressed: Command = { type: "addProcessor", item: "item-2", entry: newChainEntry("compressor", "c") };
const repaired: Command = { type: "addRepairs", item: "item-2", steps: [newRepairStep("noise", "n")] };

/** What predictions of the second item begin with. */
function Told() {
  const { view } = useCurrentItem();
  const item = view.document.items[1]!;
  const known = useKnownFigures()(item);
  if (!known) return <p>nothing</p>;
  const { figures, chain } = predictableOf(view.document, item, known);
  const level = figures.integratedLufs!.toFixed(1);
  return <p data-testid="told">{`${level} LUFS, ${chain.length} to come, without ${known.leftOut ?? "nothing"}`}</p>;
}
const told = () => screen.getByTestId("told").textContent;

describe("what is known of an item that is not in hand", () => {
  it("leaves its repairs out until the server has measured it, and says so", () => {
    inWorkspace(<Told />, { ...OVERVIEW, items: 2, prepare: [compressed, repaired] });
    expect(told()).toMatch(/1 to come, without its repair$/);
  });

  it("is what the server measured after repairs and chain, with nothing more to come", async () => {
    const measured = { ...measuredFigures(), integratedLufs: -31.5 };
    const hashOf = (shown: ReturnType<typeof inWorkspace>, source: object) =>
      processedItem(shown.document(), shown.document().items[1]!, knownRecordings([source as never]))!.hash;
    const probe = inWorkspace(<p />, { ...OVERVIEW, items: 2, prepare: [compressed, repaired] });
    const { layout } = measuredFigures();
    const { layoutNamed } = await import("@core/audio/layout");
    const hash = hashOf(probe, {
      hash: probe.document().items[1]!.source,
      layout: layoutNamed(layout),
      figures: measuredFigures(),
    });
    probe.unmount();
    const itemFigures = [{ hash, figures: measured, overview_hash: OVERVIEW.source.overview_hash }];
    const shown = inWorkspace(<Told />, {
      ...OVERVIEW,
      items: 2,
      prepare: [compressed, repaired],
      view: { itemFigures },
    });
    expect(told()).toBe("-31.5 LUFS, 0 to come, without nothing");
    // Another setting is another sound: what was measured is that of the earlier one.
    shown.arrive({ ...compressed, entry: newChainEntry("gain", "g") } as Command);
    expect(told()).toMatch(/2 to come, without its repair$/);
  });

  it("is asked for once it is left alone for a moment, of items that something is done to and that are not in hand", async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true });
    const asked = answering({});
    const inHand: Command = { ...compressed, item: "item-1" };
    inWorkspace(<Told />, { ...OVERVIEW, items: 3, prepare: [compressed, inHand] });
    expect(asked.filter(({ path }) => path.endsWith("figures"))).toEqual([]);
    await act(() => vi.advanceTimersByTimeAsync(4000));
    await waitFor(() => expect(asked.some(({ path }) => path.endsWith("figures"))).toBe(true));
    expect(asked.find(({ path }) => path.endsWith("figures"))!.body).toEqual({ items: ["item-2"] });
  });
});
