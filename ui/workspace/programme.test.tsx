import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { useWholeProgramme, type ProgrammeInHand } from "@ui/state/programme";
import type { Command } from "@core/project/commands";
import { usePicked } from "@ui/state/picked";
import { useWorkspace } from "@ui/state/workspace-store";
import { inWorkspace, OVERVIEW, place } from "../../tests/components/current-item";
import { programmeCommands } from "./commands/programme-commands";
import { ProgrammeBar } from "./programme-bar";
import { ProgrammeFigures } from "./programme-strip";

const heard = vi.hoisted(() => ({
  seeks: [] as number[],
  stretches: [] as [number, number][],
  opened: 0,
  programmes: 0,
}));
vi.mock("@ui/state/listening-engine", () => ({
  useEngineState: () => ({ status: "ready", playing: false, problem: null }),
  engine: () => ({
    state: { playing: false },
    position: 0,
    open: () => heard.opened++,
    close: vi.fn(),
    set: vi.fn(),
    setProgramme: () => heard.programmes++,
    pause: vi.fn(),
    resetMeters: vi.fn(),
    subscribe: () => () => undefined,
    seek: (frame: number) => heard.seeks.push(frame),
    playStretch: (start: number, end: number) => Promise.resolve(void heard.stretches.push([start, end])),
  }),
}));

const RATE = 48_000;
const THREE = {
  ...OVERVIEW,
  items: 3,
  prepare: [place("item-2", { gapSeconds: 2 }), place("item-3", { gapSeconds: 1, gainDb: -9 })],
};

beforeEach(() => {
  heard.seeks.length = 0;
  heard.stretches.length = 0;
  vi.stubGlobal("fetch", () => Promise.reject(new Error("no server")));
});

describe("the strip while the programme is in hand", () => {
  it("tells the whole: loudness and peak with margins, loudest to quietest, the largest step", () => {
    inWorkspace(<ProgrammeFigures />, THREE);
    expect(screen.getByTestId("programme-integratedLufs").textContent).toMatch(/−?\d+\.\d LUFS/);
    expect(screen.getByTestId("programme-truePeakDbtp").textContent).toMatch(/dBTP/);
    expect(screen.getByText("Loudest to quietest").parentElement!.textContent).toContain("9.0 LU");
    expect(screen.getByText("Largest step").parentElement!.textContent).toContain("▲ 2 → 3");
    expect(screen.getByText("3 in order")).toBeTruthy();
  });
  it("has dashes for what is not known yet", () => {
    inWorkspace(<ProgrammeFigures />, { items: 0 });
    expect(screen.getAllByText(/—/).length).toBeGreaterThan(1);
  });
});

describe("the bar while the programme is in hand", () => {
  it("opens the programme, and plays joins with their rolls", async () => {
    inWorkspace(<ProgrammeBar />, THREE);
    expect(heard.opened).toBeGreaterThan(0);
    const user = userEvent.setup();
    await user.click(screen.getByLabelText("Seconds heard around a join"));
    await user.clear(screen.getByLabelText("Seconds heard before a join"));
    await user.type(screen.getByLabelText("Seconds heard before a join"), "2{Enter}");
    await user.clear(screen.getByLabelText("Seconds heard after a join"));
    await user.type(screen.getByLabelText("Seconds heard after a join"), "3{Enter}");
    await user.keyboard("{Escape}");
    await user.click(screen.getByText("Hear this join"));
    expect(heard.stretches).toEqual([[4 * RATE, 11 * RATE]]);
    expect(screen.getByTitle("Stop").textContent).toBe("join 1 → 2");
    await user.click(screen.getByLabelText("The next join"));
    expect(useWorkspace.getState().item).toBe("item-3");
  });
  it("loops the join, and hears the recordings as they came", async () => {
    inWorkspace(<ProgrammeBar />, THREE);
    const user = userEvent.setup();
    await user.click(screen.getByText("Loop"));
    expect(useWorkspace.getState().loopingJoin).toBe(true);
    await user.click(screen.getByText("Original"));
    expect(useWorkspace.getState().monitorSource).toBe("original");
  });
  it("hears references where there are any, and other mixes where items have them", async () => {
    const mix = { item: "item-1", source: "a".repeat(64), mix: "instrumental" };
    inWorkspace(<ProgrammeBar />, {
      ...THREE,
      prepare: [...(THREE.prepare ?? []), { type: "replaceRecordings", replacements: [mix] }],
    });
    const user = userEvent.setup();
    expect((screen.getByText("Reference") as HTMLButtonElement).disabled).toBe(true);
    await user.selectOptions(screen.getByLabelText("Mix that is heard"), "instrumental");
    expect(useWorkspace.getState().heardMix).toBe("instrumental");
    await user.selectOptions(screen.getByLabelText("Mix that is heard"), "");
    expect(useWorkspace.getState().heardMix).toBeNull();
  });
  it("switches to what was laid beside it", async () => {
    const reference = { id: "r", source: "a".repeat(64), item: null, atSeconds: 0 };
    inWorkspace(<ProgrammeBar />, {
      ...THREE,
      prepare: [...(THREE.prepare ?? []), { type: "setReference", reference }],
    });
    await userEvent.setup().click(screen.getByText("Reference"));
    expect(useWorkspace.getState().monitorSource).toBe("reference");
    expect(screen.getByText("Reference").getAttribute("aria-checked")).toBe("true");
  });
  it("has nothing to play where nothing is in the order", () => {
    inWorkspace(<ProgrammeBar />, { items: 0 });
    expect((screen.getByText("Play") as HTMLButtonElement).closest("button")!.disabled).toBe(true);
    expect((screen.getByText("All joins") as HTMLButtonElement).closest("button")!.disabled).toBe(true);
  });
});

describe("keys while the programme is in hand", () => {
  function commands(prepare: Command[] = []) {
    let programme: ProgrammeInHand | undefined;
    const Read = () => {
      programme = useWholeProgramme();
      return null;
    };
    const { document } = inWorkspace(<Read />, { ...THREE, prepare: [...(THREE.prepare ?? []), ...prepare] });
    const marked: number[] = [];
    const all = programmeCommands(document(), programme!, (seconds) => marked.push(seconds));
    return { run: (id: string) => all.find((one) => one.id === id)!.run(), all, marked };
  }
  it("go from item to item, to both ends, and by seconds", () => {
    const { run } = commands();
    run("item-next");
    expect(heard.seeks.at(-1)).toBe(8 * RATE);
    run("item-next");
    expect(heard.seeks.at(-1)).toBe(15 * RATE);
    run("item-before");
    expect(heard.seeks.at(-1)).toBe(8 * RATE);
    run("right");
    expect(heard.seeks.at(-1)).toBe(9 * RATE);
    run("end");
    expect(heard.seeks.at(-1)).toBe(21 * RATE);
    run("start");
    expect(heard.seeks.at(-1)).toBe(0);
  });
  it("go from point to point of gain lines, those of the one in hand where there is one", () => {
    const envelope: [number, number][] = [
      [1, -3],
      [4, 0],
    ];
    const { run } = commands([place("item-1", { envelope }), place("item-2", { envelope })]);
    useWorkspace.setState({ programmeCursor: 0, gainLineOf: null });
    for (const at of [1, 4, 9, 12]) {
      run("point-next");
      expect(heard.seeks.at(-1)).toBe(at * RATE);
    }
    run("point-next");
    expect(heard.seeks.at(-1)).toBe(12 * RATE);
    useWorkspace.setState({ gainLineOf: { kind: "item", id: "item-1" } });
    run("point-before");
    expect(heard.seeks.at(-1)).toBe(4 * RATE);
    useWorkspace.setState({ gainLineOf: null });
  });
  it("pick all items, and none", () => {
    const { run } = commands();
    run("pick-all");
    expect(usePicked.getState().items.ids).toEqual(["item-1", "item-2", "item-3"]);
    run("pick-nothing");
    expect(usePicked.getState().items.ids).toEqual([]);
  });
  it("go from join to join, and stop at the last", () => {
    const { run } = commands();
    run("join-next");
    expect(useWorkspace.getState().item).toBe("item-3");
    run("join-before");
    expect(useWorkspace.getState().item).toBe("item-2");
  });
  it("put a marker where the playhead is", () => {
    const { run, marked } = commands();
    useWorkspace.setState({ programmeCursor: 3.25 });
    run("programme-marker");
    expect(marked).toEqual([3.25]);
  });
  it("have each one meaning", () => {
    const keys = commands().all.flatMap(({ keys: pressed }) => pressed ?? []);
    expect(new Set(keys).size).toBe(keys.length);
  });
});

it("a component of the programme says where it belongs", () => {
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  expect(() => render(<ProgrammeFigures />)).toThrow(/outside of the programme/);
});
