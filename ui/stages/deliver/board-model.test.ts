import { describe, expect, it } from "vitest";
import { Measurer } from "@core/measure";
import { applyCommand, type Command } from "@core/project/commands";
import { masterInputs, masterKey } from "@core/project/master-inputs";
import { newProject } from "@core/project/templates";
import type { Master, ProjectView, Source } from "@core/project/views";
import { layoutNamed } from "@core/signal/layout";
import { specNamed } from "@core/spec";
import { check } from "@core/spec/verdict";
import { noise } from "@core/testing/signals";
import { newChainEntry } from "@core/process";
import { cellOf, toRender, type KnownOf } from "./board-model";

const HASH = "c".repeat(64);
const layout = layoutNamed("stereo")!;
const measurer = new Measurer({ sampleRate: 48000, layout });
measurer.process([noise(5, 48000, -12, 1), noise(5, 48000, -12, 2)]);
const measured = measurer.result();
const known: KnownOf = () => measured;

const source = { hash: HASH, state: "ready", layout, figures: measured.figures } as Source;
const add: Command = {
  type: "addSource",
  source: { hash: HASH, name: "Reed.wav" },
  item: { id: "a", name: "Reed", source: HASH, repairs: [], chain: [], markers: [] },
};
const document = applyCommand(newProject("Board", "broadcast"), add);
const view = (masters: Master[] = [], changed = document): ProjectView => ({
  id: "p",
  head: 1,
  document: changed,
  undo: null,
  redo: null,
  states: 1,
  savedAt: "",
  sources: [source],
  masters,
  uploads: [],
});
const [item] = document.items;
const [deliverable] = document.deliverables;

function master(state: Master["state"]): Master {
  const inputs = masterInputs(document, item!, deliverable!, layout);
  const figures = { ...measured.figures, integratedLufs: -20, truePeakDbtp: -2 };
  const verdict = check(specNamed("ebu-r128"), figures);
  return {
    id: "m",
    item_id: "a",
    deliverable_id: deliverable!.id,
    key: masterKey(inputs),
    inputs,
    state,
    result: { figures, verdict },
  } as Master;
}

describe("the board", () => {
  it("predicts a cell that has no master, and counts it to be rendered", () => {
    const cell = cellOf(view(), item!, deliverable!, known);
    expect(cell.verified).toBe(false);
    expect(cell.prediction!.figures.integratedLufs).toBeCloseTo(-23, 1);
    expect(cell.verdict!.pass).toBe(true);
    expect(toRender([cell])).toEqual([cell]);
  });
  it("shows what was measured on the file, not what was predicted", () => {
    const cell = cellOf(view([master("done")]), item!, deliverable!, known);
    expect(cell.verified).toBe(true);
    expect(cell.verdict!.pass).toBe(false);
    expect(toRender([cell])).toEqual([]);
  });
  it("does not count what is under way, but what failed or was stopped", () => {
    const count = (state: Master["state"]) =>
      toRender([cellOf(view([master(state)]), item!, deliverable!, known)]).length;
    expect([count("waiting"), count("rendering"), count("failed"), count("cancelled")]).toEqual([0, 0, 1, 1]);
  });
  it("forgets a master when anything that decides its bytes has changed, and finds it when it is back", () => {
    const changed = applyCommand(document, {
      type: "addProcessor",
      item: "a",
      entry: newChainEntry("gain", "g"),
    } as Command);
    const masters = [master("done")];
    expect(cellOf(view(masters, changed), changed.items[0]!, deliverable!, known).verified).toBe(false);
    expect(cellOf(view(masters), item!, deliverable!, known).verified).toBe(true);
  });
  it("does not take the name of a processor for one of its settings", () => {
    const chained = (id: string) =>
      applyCommand(document, { type: "addProcessor", item: "a", entry: newChainEntry("limiter", id) } as Command)
        .items[0]!;
    const key = (id: string) => masterKey(masterInputs(document, chained(id), deliverable!, layout));
    expect(key("one")).toBe(key("two"));
  });
  it("says nothing of an item whose recording is not read yet", () => {
    const waiting = { ...view(), sources: [{ ...source, state: "preparing", layout: null, figures: null } as Source] };
    const cell = cellOf(waiting, item!, deliverable!, () => null);
    expect(cell).toMatchObject({ verdict: null, prediction: null, verified: false });
    expect(toRender([cell])).toEqual([]);
  });
});
