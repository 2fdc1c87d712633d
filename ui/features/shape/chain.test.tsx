import { fireEvent, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { newChainEntry } from "@core/processors";
import type { Command } from "@core/project/commands";
import { PROGRAMME_ID } from "@core/project/document";
import type { EqualiserBand } from "@core/processors/equaliser";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem } from "@ui/state/current-item";
import { inWorkspace, measuredFigures, show } from "../../../tests/components/current-item";
import { MixSwitches } from "./mix-switches";
import { LevelTo } from "./level-to";
import { AutomationEditor } from "./automation-editor";
import { ChainStrip } from "./chain-strip";
import { BandList } from "./visualisers/band-list";
import { UsualChain } from "./usual-chain";
import { useEntry } from "./visualisers/use-entry";

const add = (type: string, id: string, settings: object = {}, item = "item-1"): Command => ({
  type: "addProcessor",
  item,
  entry: { ...newChainEntry(type, id), ...settings },
});
const cards = () => screen.getByTestId("chain").querySelectorAll<HTMLButtonElement>("button[draggable]");

describe("an empty chain", () => {
  it("offers what is usual for the kind of project, one by one or all in one edit", async () => {
    const onChoose = vi.fn();
    const { document, edits } = inWorkspace(<UsualChain onChoose={onChoose} />, { template: "audiobook" });
    const user = userEvent.setup();
    const rows = within(screen.getByTestId("usual-chain")).getAllByRole("listitem");
    await user.click(within(rows[2]!).getByRole("button", { name: "Add" }));
    expect(document().items[0]!.chain.map(({ type }) => type)).toEqual(["de-esser"]);
    expect(onChoose).toHaveBeenCalledWith(document().items[0]!.chain[0]!.id);
    await user.click(screen.getByRole("button", { name: "Add all 5" }));
    expect(document().items[0]!.chain.map(({ type }) => type)).toEqual([
      "filter",
      "equaliser",
      "de-esser",
      "compressor",
      "limiter",
    ]);
    expect(edits).toHaveLength(2);
  });
});

describe("the mixes that a processor is used in", () => {
  it("are switched one by one; an item of one mix has nothing to switch", async () => {
    const source = "f".repeat(64);
    const prepare: Command[] = [add("de-esser", "d")];
    const alone = inWorkspace(<MixSwitches work="d" />, { prepare });
    expect(screen.queryByRole("group")).toBeNull();
    alone.unmount();
    const { document } = inWorkspace(<MixSwitches work="d" />, {
      prepare: [
        ...prepare,
        {
          type: "addSource",
          source: { hash: source, name: "Reed, instrumental.wav" },
          item: { id: "arrived", name: "Reed, instrumental", source, repairs: [], chain: [], markers: [] },
        },
        {
          type: "replaceRecordings",
          replacements: [{ item: "item-1", source, mix: "instrumental", arrived: "arrived" }],
        },
      ],
    });
    const user = userEvent.setup();
    await user.click(screen.getByLabelText("instrumental"));
    expect(document().items[0]!.mixes![1]!.leftOut).toEqual(["d"]);
    expect(document().items[0]!.chain[0]!.bypass).toBe(false);
    await user.click(screen.getByLabelText("main (in force)"));
    expect(document().items[0]!.chain[0]!.bypass).toBe(true);
    await user.click(screen.getByLabelText("main (in force)"));
    expect(document().items[0]!.chain[0]!.bypass).toBe(false);
    expect(screen.getByLabelText<HTMLInputElement>("instrumental").checked).toBe(false);
  });
});

describe("the chain", () => {
  it("shows each processor with its group and its settings in few words", () => {
    inWorkspace(<ChainStrip chosen={null} onChoose={vi.fn()} />, {
      prepare: [add("gain", "g", { gainDb: -3 }), add("compressor", "c", { bypass: true })],
    });
    expect(cards()).toHaveLength(2);
    expect(cards()[0]!.textContent).toMatch(/Gain.*−3\.0 dB/);
    expect(cards()[1]!.textContent).toMatch(/bypassed/);
  });

  it("tells the level between processors: what comes in, and what comes out", () => {
    inWorkspace(<ChainStrip chosen={null} onChoose={vi.fn()} />, { prepare: [add("gain", "g", { gainDb: -6 })] });
    const levels = within(screen.getByTestId("chain"))
      .getAllByRole("meter")
      .map((meter) => Number(meter.getAttribute("aria-valuenow")));
    expect(levels).toHaveLength(2);
    expect(levels[1]! - levels[0]!).toBeCloseTo(-6, 3);
  });

  it("is taken in hand by a click, and moved by Alt and arrow keys, not beyond its ends", () => {
    const onChoose = vi.fn();
    const { document } = inWorkspace(<ChainStrip chosen="a" onChoose={onChoose} />, {
      prepare: [add("gain", "a"), add("limiter", "b")],
    });
    fireEvent.click(cards()[1]!);
    expect(onChoose).toHaveBeenCalledWith("b");
    fireEvent.keyDown(cards()[0]!, { key: "ArrowRight", altKey: true });
    expect(document().items[0]!.chain.map(({ id }) => id)).toEqual(["b", "a"]);
    fireEvent.keyDown(cards()[1]!, { key: "ArrowRight", altKey: true });
    expect(document().items[0]!.chain.map(({ id }) => id)).toEqual(["b", "a"]);
  });

  it("is moved by dragging, within its own part only", () => {
    const { document, edits } = inWorkspace(<ChainStrip chosen={null} onChoose={vi.fn()} />, {
      prepare: [add("gain", "a"), add("limiter", "b"), add("gain", "all", {}, PROGRAMME_ID)],
    });
    fireEvent.dragStart(cards()[1]!);
    fireEvent.drop(cards()[0]!);
    expect(document().items[0]!.chain.map(({ id }) => id)).toEqual(["b", "a"]);
    fireEvent.dragStart(cards()[0]!);
    fireEvent.drop(cards()[2]!);
    expect(edits).toHaveLength(1);
  });
});

function Automation() {
  const { item } = useCurrentItem();
  return <AutomationEditor inHand={useEntry(item!.chain[0]!, item!.id)} />;
}

describe("automation", () => {
  it("offers what can be automated, and says what it is", () => {
    inWorkspace(<Automation />, { prepare: [add("gain", "g")] });
    const options = [...screen.getByLabelText<HTMLSelectElement>("Automated setting").options].map(({ text }) => text);
    expect(options).toEqual(["choose a setting", "Gain"]);
    expect(screen.getByText(/without points it stays where it is/)).toBeTruthy();
  });

  it("sets a point at the playhead with the setting that is there, and removes all", async () => {
    const { document } = inWorkspace(<Automation />, { prepare: [add("gain", "g", { gainDb: -4 })] });
    useWorkspace.setState({ cursor: 2 });
    const user = userEvent.setup();
    await user.selectOptions(screen.getByLabelText("Automated setting"), "gainDb");
    const setPoint = () => user.click(screen.getByRole("button", { name: "Point at the playhead" }));
    const automation = () => document().items[0]!.chain[0]!.automation;
    await setPoint();
    expect(automation()!["gainDb"]).toEqual([[2, -4]]);
    await user.click(screen.getByRole("button", { name: "Remove all points" }));
    expect(automation()?.["gainDb"] ?? []).toEqual([]);
  });

  it("a further point lies on the line that is there: nothing is heard of it until it is moved", async () => {
    const line: [number, number][] = [
      [0, -4],
      [4, 0],
    ];
    const { document } = inWorkspace(<Automation />, {
      prepare: [add("gain", "g"), { type: "setLine", item: "item-1", entry: "g", parameter: "gainDb", line }],
    });
    useWorkspace.setState({ cursor: 2 });
    await userEvent.setup().click(screen.getByRole("button", { name: "Point at the playhead" }));
    expect(document().items[0]!.chain[0]!.automation!["gainDb"]).toEqual([
      [0, -4],
      [2, -2],
      [4, 0],
    ]);
  });

  it("names bands by their letters", () => {
    const bands = [
      { shape: "bell", hertz: 200, gainDb: 3, q: 1, slope: "12", on: true },
      { shape: "bell", hertz: 2000, gainDb: -3, q: 1, slope: "12", on: true },
    ];
    inWorkspace(<Automation />, { prepare: [add("equaliser", "e", { bands })] });
    const options = [...screen.getByLabelText<HTMLSelectElement>("Automated setting").options].map(({ text }) => text);
    expect(options.filter((text) => text.startsWith("band a")).length).toBeGreaterThan(1);
    expect(options.some((text) => text.startsWith("band b: frequency"))).toBe(true);
  });
});

describe("going back in the settings of one processor", () => {
  function Undo() {
    const { item } = useCurrentItem();
    const { commit, undo, redo, settings } = useEntry(item!.chain[0]!, item!.id);
    return (
      <>
        <output>{Number(settings["gainDb"])}</output>
        {[1, 2, 2].map((gain, index) => (
          <button
            key={index}
            type="button"
            onClick={() => void commit("gainDb", gain)}
          >{`to ${gain} (${index})`}</button>
        ))}
        <button type="button" disabled={!undo} onClick={() => undo?.()}>
          back
        </button>
        <button type="button" disabled={!redo} onClick={() => redo?.()}>
          forth
        </button>
      </>
    );
  }
  it("leads through what was set, without what was set twice", async () => {
    inWorkspace(<Undo />, { prepare: [add("gain", "undo-here", { gainDb: 0 })] });
    const user = userEvent.setup();
    const press = (name: string) => user.click(screen.getByRole("button", { name }));
    const gain = () => screen.getByRole("status").textContent;
    await press("to 1 (0)");
    await press("to 2 (1)");
    await press("to 2 (2)");
    await press("back");
    expect(gain()).toBe("1");
    await press("back");
    expect(gain()).toBe("0");
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "back" }).disabled).toBe(true);
    await press("forth");
    expect(gain()).toBe("1");
    await press("to 1 (0)");
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "forth" }).disabled).toBe(false);
  });
});

describe("normalising an item by its gain", () => {
  function Line() {
    const { item } = useCurrentItem();
    return <LevelTo inHand={useEntry(item!.chain.at(-1)!, item!.id)} />;
  }
  const shown = () =>
    inWorkspace(<Line />, {
      prepare: [add("gain", "before", { gainDb: -6 }), add("gain", "peak", { gainDb: 0 })],
    });
  const gainDbOf = (document: ReturnType<typeof shown>["document"]) => Number(document().items[0]!.chain[1]!["gainDb"]);
  const { truePeakDbtp, samplePeakDbfs, integratedLufs } = measuredFigures();

  it("brings its true peak to where it is wanted, after what stands before", async () => {
    const { document } = shown();
    await userEvent.setup().click(screen.getByRole("button", { name: /dB$/ }));
    expect(gainDbOf(document)).toBeCloseTo(-1 - (truePeakDbtp! - 6), 2);
  });
  it("takes per cent of full scale, and loudness", async () => {
    const { document } = shown();
    const user = userEvent.setup();
    const choose = async (id: string, text: string) => {
      await user.selectOptions(screen.getByLabelText("What is normalised"), id);
      const field = screen.getByLabelText(/^Level to normalise to/);
      await user.clear(field);
      await user.type(field, `${text}{Enter}`);
    };
    await choose("percent", "50");
    expect(gainDbOf(document)).toBeCloseTo(-6.02 - (samplePeakDbfs! - 6), 1);
    await choose("loudness", "-20");
    expect(gainDbOf(document)).toBeCloseTo(-20 - (integratedLufs! - 6), 1);
    await choose("sample", "loud");
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Set the gain" }).disabled).toBe(true);
  });
});

describe("going back in what moves over time", () => {
  function Undo() {
    const { item } = useCurrentItem();
    const { commit, commitLine, undo, redo } = useEntry(item!.chain[0]!, item!.id);
    return (
      <>
        <button type="button" onClick={() => void commitLine("gainDb", [[2, -6]])}>
          draw
        </button>
        <button type="button" onClick={() => void commit("gainDb", 3)}>
          set
        </button>
        <button type="button" onClick={() => undo?.()}>
          back
        </button>
        <button type="button" onClick={() => redo?.()}>
          forth
        </button>
      </>
    );
  }
  it("takes the line away and puts it back, as it does with settings", async () => {
    const { document } = inWorkspace(<Undo />, { prepare: [add("gain", "line-undone", { gainDb: 0 })] });
    const user = userEvent.setup();
    const press = (name: string) => user.click(screen.getByRole("button", { name }));
    const entry = () => document().items[0]!.chain[0]!;
    await press("draw");
    await press("set");
    expect([entry().automation, entry()["gainDb"]]).toEqual([{ gainDb: [[2, -6]] }, 3]);
    await press("back");
    expect([entry().automation, entry()["gainDb"]]).toEqual([{ gainDb: [[2, -6]] }, 0]);
    await press("back");
    expect(entry().automation).toBeUndefined();
    await press("forth");
    expect(entry().automation).toEqual({ gainDb: [[2, -6]] });
  });
});

describe("the list of bands", () => {
  const bands: EqualiserBand[] = [
    { shape: "high-pass", hertz: 80, gainDb: 0, q: 0.7, slope: "12", on: true },
    { shape: "bell", hertz: 1000, gainDb: -2.5, q: 2, slope: "12", on: true },
  ] as EqualiserBand[];
  const list = (chosen = 1) => {
    const calls = { onChoose: vi.fn(), onChange: vi.fn(), onRemove: vi.fn(), onAdd: vi.fn() };
    show(<BandList bands={bands} chosen={chosen} {...calls} />);
    return calls;
  };

  it("has a letter for each band, its gain where it has one, and the one in hand marked", () => {
    list();
    const rows = screen.getAllByRole("row").slice(1);
    expect(rows[0]!.textContent).toMatch(/^a.*high-pass.*–/);
    expect(rows[1]!.textContent).toMatch(/^b.*bell.*−2\.5/);
    expect(rows.map((row) => row.getAttribute("aria-selected"))).toEqual(["false", "true"]);
  });
  it("chooses, adds and removes", async () => {
    const { onChoose, onAdd, onRemove } = list();
    const user = userEvent.setup();
    await user.click(screen.getAllByRole("row")[1]!);
    expect(onChoose).toHaveBeenCalledWith(0);
    await user.click(screen.getByRole("button", { name: "band" }));
    await user.click(screen.getByRole("button", { name: "Remove band b" }));
    expect([onAdd.mock.calls.length, onRemove.mock.calls]).toEqual([1, [[1]]]);
  });
  it("solos the band between its edges, and lets it go", async () => {
    list();
    const user = userEvent.setup();
    await user.click(screen.getByRole("button", { name: "hear it" }));
    const { low, high } = useWorkspace.getState().soloBand!;
    expect(Math.sqrt(low * high)).toBeCloseTo(1000, 6);
    expect(Math.log2(high / low)).toBeCloseTo(0.5, 6);
    await user.click(screen.getByRole("button", { name: "hear all" }));
    expect(useWorkspace.getState().soloBand).toBeNull();
  });
});
