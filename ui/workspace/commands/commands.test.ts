import { afterAll, beforeEach, describe, expect, it, vi } from "vitest";
import { EditList } from "@core/edit-list/edit-list";
import { Measurer } from "@core/measure";
import { layoutNamed } from "@core/audio/layout";
import { newRepairStep } from "@core/repair";
import { parseCommand, type Command } from "@core/project/commands";
import type { Item } from "@core/project/document";
import { noise } from "@core/testing/signals";
import type { ItemFacts } from "../../state/current-item";
import { useCutSettings } from "../../state/edit-actions";
import { useWorkspace } from "../../state/workspace-store";
import { commandsOf, COMMAND_GROUPS, type WorkspaceCommand } from ".";
import {
  assignKeys,
  importKeys,
  isTaken,
  keysNow,
  keysOfEvent,
  keyWords,
  ownKeysJson,
  sameKeys,
  useOwnKeys,
} from "./keys";

// Other tests of this worker may have loaded the engine already, and are not to find this one.
vi.hoisted(() => vi.resetModules());
afterAll(() => void vi.resetModules());
vi.mock("../../state/listening-engine", () => ({
  engine: () => ({ state: { playing: false }, position: 0, seek: vi.fn(), play: vi.fn(), playStretch: vi.fn() }),
}));

const RATE = 48_000;
const x = noise(10, RATE, -20, 1);
const measurer = new Measurer({ sampleRate: RATE, layout: layoutNamed("mono")! });
measurer.process([x]);
const { figures, curves } = measurer.result();
const item: Item = { id: "i1", name: "Low Door", source: "a".repeat(64), repairs: [], chain: [], markers: [] };
const facts = {
  item,
  source: { hash: item.source },
  editList: EditList.of(undefined, x.length),
  duration: 10,
  sampleRate: RATE,
  figures,
  curves,
  knownLevels: null,
} as unknown as ItemFacts;

const edit = vi.fn((_: Command) => Promise.resolve());
const moveHead = vi.fn(() => Promise.resolve());
const keepSlot = vi.fn();
let latest = item;
const commands = () => commandsOf({ facts, items: [item], spec: null, latest: () => latest, edit, moveHead }, keepSlot);
const run = (id: string) =>
  commands()
    .find((command) => command.id === id)!
    .run();
const state = useWorkspace.getState;

beforeEach(() => {
  vi.clearAllMocks();
  useCutSettings.setState({ hear: false });
  latest = item;
  useWorkspace.setState(useWorkspace.getInitialState());
});

describe("commands", () => {
  it("have ids, words and groups of their own, and no two share a key", () => {
    const all = commands();
    expect(new Set(all.map(({ id }) => id)).size).toBe(all.length);
    const keyed = all.flatMap(({ keys }) => (keys ? [keys] : []));
    expect(keyed.filter((keys, index) => keyed.indexOf(keys) !== index)).toEqual([]);
    expect(keyed.filter(isTaken)).toEqual([]);
    for (const { label, group } of all) {
      expect(label).toMatch(/^[A-Z]|^Stage|^Inspect/);
      expect(COMMAND_GROUPS).toContain(group);
    }
  });

  it("do nothing, and do not fail, where no item is in hand", () => {
    const none = commandsOf({ facts: null, items: [], spec: null, latest: () => null, edit, moveHead }, keepSlot);
    const needItem = none.filter(({ group }) => ["Selection", "Editing", "Markers"].includes(group));
    for (const command of needItem) expect(command.run).not.toThrow();
    expect(edit).not.toHaveBeenCalled();
  });

  /** State before, command, what the state is then. */
  const TABLE: [string, Partial<ReturnType<typeof state>>, Partial<ReturnType<typeof state>>][] = [
    ["loop", { looping: false }, { looping: true }],
    ["original", { monitorSource: "now" }, { monitorSource: "original" }],
    ["original", { monitorSource: "original" }, { monitorSource: "now" }],
    ["before", { monitorSource: "removed" }, { monitorSource: "before" }],
    ["removed", { monitorSource: "now" }, { monitorSource: "removed" }],
    ["reference", { reference: null }, { dialog: "listen", monitorSource: "now" }],
    ["reference", { reference: "b" }, { monitorSource: "reference" }],
    ["match", { levelMatched: true }, { levelMatched: false }],
    ["band", { soloSelectedBand: false }, { soloSelectedBand: true }],
    ["faster", { speed: 1 }, { speed: 1.25 }],
    ["faster", { speed: 4 }, { speed: 4 }],
    ["slower", { speed: 0.5 }, { speed: -1 }],
    ["slower", { speed: -4 }, { speed: -4 }],
    ["normal", { speed: -2 }, { speed: 1 }],
    ["history", {}, { dialog: "history" }],
    ["commands", {}, { dialog: "commands" }],
    ["markers", {}, { dialog: "markers" }],
    ["without-chain", { chainBypassed: false }, { chainBypassed: true }],
    ["stage-deliver", { stage: "intake" }, { stage: "deliver" }],
    ["inspect-spectrum", { stage: "shape" }, { stage: "inspect", inspect: "spectrum" }],
  ];
  it.each(TABLE)("%s: from %o to %o", (id, before, after) => {
    useWorkspace.setState(before);
    run(id);
    expect(state()).toMatchObject(after);
  });

  it("go from item to item, and stay at the ends", () => {
    const items = ["a", "b", "c"].map((id) => ({ ...item, id, name: id }));
    const all = commandsOf({ facts: null, items, spec: null, latest: () => null, edit, moveHead }, keepSlot);
    const go = (id: string) => all.find((command) => command.id === id)!.run();
    const visited = ["item-after-this", "item-after-this", "item-after-this", "item-before-this"].map((id) => {
      go(id);
      return state().item;
    });
    expect(visited).toEqual(["a", "b", "c", "b"]);
  });

  it("undo and redo go through the history", () => {
    run("undo");
    run("redo");
    expect(moveHead.mock.calls).toEqual([[{ to: "undo" }], [{ to: "redo" }]]);
  });
});

describe("keys for a selection", () => {
  const region = { start: RATE, end: 2 * RATE };
  const edits = () => edit.mock.calls.map(([command]) => command);

  it("lower it by a step, once more by another one of the same, and all are commands that the server takes", () => {
    useWorkspace.setState({ selection: { start: 1, end: 2 } });
    run("gain-down");
    const [first] = edits();
    expect(first).toMatchObject({
      type: "addRepairs",
      item: "i1",
      steps: [{ type: "region-gain", gainDb: -1.5, regions: [region] }],
    });
    const [step] = (first as { steps: ReturnType<typeof newRepairStep>[] }).steps;
    latest = { ...item, repairs: [step!] };
    run("gain-down");
    expect(edits()[1]).toMatchObject({ type: "setRepair", step: step!.id, changes: { gainDb: -3, regions: [region] } });
    for (const command of edits()) expect(parseCommand(command)).toMatchObject({ type: command.type });
  });
  it("silence it, or replace it, only where something is selected", () => {
    run("silence");
    run("replace");
    expect(edits()).toEqual([]);
    useWorkspace.setState({ selection: { start: 1, end: 2, band: { low: 300, high: 700 } } });
    run("silence");
    run("replace");
    expect(edits()).toMatchObject([
      { steps: [{ type: "region-gain", gainDb: -100, regions: [{ ...region, lowHz: 300, highHz: 700 }] }] },
      { steps: [{ type: "spectral-inpainting", regions: [{ ...region, lowHz: 300, highHz: 700 }] }] },
    ]);
  });
  it("never put the whole recording in the place of what is selected", () => {
    useWorkspace.setState({ selection: { start: 1, end: 2 } });
    for (const id of ["gain-up", "gain-down", "silence", "replace"]) run(id);
    for (const command of edits()) {
      const parsed = parseCommand(command) as { steps: { regions: object[] }[] };
      expect(parsed.steps[0]!.regions).toEqual([region]);
    }
  });
  it("markers are set over it and at the playhead", () => {
    useWorkspace.setState({ cursor: 3, selection: { start: 1, end: 2 } });
    run("marker-mark");
    run("marker-range");
    expect(edits()).toMatchObject([
      { type: "addMarkers", markers: [{ kind: "mark", start: 3 * RATE }] },
      { type: "addMarkers", markers: [{ kind: "mark", start: RATE, end: 2 * RATE }] },
    ]);
  });
  it("a repair in hand is switched and moved", () => {
    latest = { ...item, repairs: [newRepairStep("hum", "a"), newRepairStep("noise", "b")] };
    useWorkspace.setState({ step: "a" });
    run("step-on");
    expect(edits()[0]).toMatchObject({ type: "switchRepair", step: "a", enabled: false });
  });
});

describe("keys", () => {
  const list: Pick<WorkspaceCommand, "id" | "keys">[] = [
    { id: "play", keys: "space" },
    { id: "loop", keys: "l" },
  ];
  beforeEach(() => useOwnKeys.setState({ own: {} }));

  it.each([
    ["mod+shift+z", "Ctrl Shift Z"],
    ["space", "Space"],
    ["shift+arrowdown", "Shift ↓"],
    ["mod+comma", "Ctrl ,"],
  ])("%s is said as %s", (keys, words) => {
    expect(keyWords(keys)).toBe(words);
  });
  it("are known as they are pressed", () => {
    const event = { code: "KeyZ", shiftKey: true, ctrlKey: true, metaKey: false, altKey: false };
    expect(keysOfEvent(event)).toBe("mod+shift+z");
    expect(keysOfEvent({ ...event, ctrlKey: false, metaKey: true })).toBe("mod+shift+z");
    expect(keysOfEvent({ ...event, altKey: true })).toBeNull();
    expect(keysOfEvent({ ...event, code: "ShiftLeft" })).toBeNull();
    expect(keysOfEvent({ ...event, ctrlKey: false, code: "Digit1" })).toBe("shift+1");
    expect(["mod+w", "mod+3", "w"].map(isTaken)).toEqual([true, true, false]);
    expect(sameKeys("mod+shift+z", { keys: ["z"], mod: true, shift: true })).toBe(true);
    expect(sameKeys("mod+z", { keys: ["z"], mod: true, shift: true })).toBe(false);
  });
  it("that are given to one command are taken from the other", () => {
    assignKeys(list, "loop", "space");
    const { own } = useOwnKeys.getState();
    expect(list.map((command) => keysNow(command as { id: string }, own))).toEqual([undefined, "space"]);
  });
  it("come back from a file, and what is no table of keys is refused", () => {
    assignKeys(list, "loop", "shift+p");
    const text = ownKeysJson();
    useOwnKeys.setState({ own: {} });
    importKeys(text);
    expect(useOwnKeys.getState().own).toEqual({ loop: "shift+p" });
    expect(() => importKeys("no json")).toThrow("The file is no JSON.");
    expect(() => importKeys('{"loop": 3}')).toThrow("no table of commands and keys");
    expect(useOwnKeys.getState().own).toEqual({ loop: "shift+p" });
  });
});
