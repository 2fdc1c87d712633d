import { describe, expect, it } from "vitest";
import { Measurer } from "../measure";
import { applyCommand, type Command } from "./commands";
import { masterInputs, masterKey } from "./master-inputs";
import { newProject } from "./templates";
import { PROGRAMME_ID, type Deliverable, type Item } from "./document";
import { knownRecordings, type Master, type ProjectView, type Source } from "./views";
import { newFormat } from "../delivery/recipe";
import { layoutNamed } from "../audio/layout";
import { specNamed } from "../delivery/specs";
import { check } from "../delivery/compliance";
import { noise } from "../testing/signals";
import { newChainEntry } from "../processors";
import { albumVerdict, columnOf, toRender, remediesOf, type Cell } from "./board";
import type { KnownOf } from "./known-items";

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
  role: "edit",
  head: 1,
  document: changed,
  undo: null,
  redo: null,
  states: 1,
  savedAt: "",
  sources: [source],
  masters,
  uploads: [],
  submissions: [],
  automatic: [],
  approvals: [],
  jobs: [],
  itemFigures: [],
  overshoots: [],
});
const cellIn = (view: ProjectView, item: Item, deliverable: Deliverable, facts: KnownOf): Cell =>
  columnOf(view, deliverable, facts).find((cell) => cell.item.id === item.id)!;
const recordings = knownRecordings([source]);
const [item] = document.items;
const [deliverable] = document.deliverables;

function master(state: Master["state"]): Master {
  const inputs = masterInputs(document, item!, deliverable!, recordings)!;
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
    const cell = cellIn(view(), item!, deliverable!, known);
    expect(cell.verified).toBe(false);
    expect(cell.prediction!.figures.integratedLufs).toBeCloseTo(-23, 1);
    expect(cell.verdict!.pass).toBe(true);
    expect(toRender([cell])).toEqual([cell]);
  });
  it("shows what was measured on the file, not what was predicted", () => {
    const cell = cellIn(view([master("done")]), item!, deliverable!, known);
    expect(cell.verified).toBe(true);
    expect(cell.verdict!.pass).toBe(false);
    expect(toRender([cell])).toEqual([]);
  });
  it("does not count what is under way, but what failed or was stopped", () => {
    const count = (state: Master["state"]) =>
      toRender([cellIn(view([master(state)]), item!, deliverable!, known)]).length;
    expect([count("waiting"), count("rendering"), count("failed"), count("cancelled")]).toEqual([0, 0, 1, 1]);
  });
  it("forgets a master when anything that decides its bytes has changed, and finds it when it is back", () => {
    const changed = applyCommand(document, {
      type: "addProcessor",
      item: "a",
      entry: newChainEntry("gain", "g"),
    } as Command);
    const masters = [master("done")];
    expect(cellIn(view(masters, changed), changed.items[0]!, deliverable!, known).verified).toBe(false);
    expect(cellIn(view(masters), item!, deliverable!, known).verified).toBe(true);
  });
  it("tells tags that have changed from sound that has", () => {
    const of = (command: object) => {
      const changed = applyCommand(document, { item: "a", ...command } as unknown as Command);
      const { verified, retags } = cellIn(view([master("done")], changed), changed.items[0]!, deliverable!, known);
      return { verified, retags };
    };
    const about = { artist: "Odda Vane", composer: "", isrc: "", comment: "" };
    expect(of({ type: "describeItem", about })).toEqual({ verified: false, retags: true });
    const entry = newChainEntry("gain", "g");
    expect(of({ type: "addProcessor", entry: { ...entry, gainDb: 1 } })).toEqual({ verified: false, retags: false });
    expect(cellIn(view([master("done")]), item!, deliverable!, known).retags).toBe(false);
  });
  it("does not take the name of a processor for one of its settings", () => {
    const chained = (id: string) =>
      applyCommand(document, { type: "addProcessor", item: "a", entry: newChainEntry("limiter", id) } as Command)
        .items[0]!;
    const key = (id: string) => masterKey(masterInputs(document, chained(id), deliverable!, recordings)!);
    expect(key("one")).toBe(key("two"));
  });
  it("predicts peaks as they will be decoded, and says while what encoding adds is not known", () => {
    const lossy: Deliverable = { id: "lossy", spec: "own", format: newFormat({ container: "mp3" }) };
    const own = {
      ...specNamed("streaming-14")!,
      id: "own",
      normalise: "gain" as const,
      target: measured.figures.integratedLufs!,
    };
    const limits = [
      { ...own.limits.find(({ figure }) => figure === "truePeakDbtp")!, max: measured.figures.truePeakDbtp! + 0.5 },
    ];
    const withSpec = applyCommand(document, { type: "addSpec", spec: { ...own, limits } } as Command);
    const withIt = applyCommand(withSpec, { type: "addDeliverable", deliverable: lossy } as Command);
    const of = (overshootDb: number | null, isExact = true) => {
      const overshoot =
        overshootDb === null ? null : { hash: "", encoding: "", isExact, limitingDb: [0], overshootDb: [overshootDb] };
      const tried: KnownOf = () => ({ ...measured, overshootOf: () => overshoot });
      return cellIn(view([], withIt), withIt.items[0]!, lossy, tried);
    };
    const words = "what encoding adds to its peaks";
    expect(of(null)).toMatchObject({ leftOut: words, verdict: { pass: true } });
    expect(of(0.2)).toMatchObject({ leftOut: null, verdict: { pass: true } });
    expect(of(0.8)).toMatchObject({ leftOut: null, verdict: { pass: false } });
    expect(of(0.8, false)).toMatchObject({ leftOut: words, verdict: { pass: false } });
    expect(cellIn(view(), item!, deliverable!, known).leftOut).toBeNull();
  });
  it("predicts a spec that is measured on a fold-down by the fold-down, and says while that is not known", () => {
    const immersive: Deliverable = { id: "wide", spec: "immersive-18", format: newFormat() };
    const withIt = applyCommand(document, { type: "addDeliverable", deliverable: immersive } as Command);
    const of = (integratedLufs: number | null) => {
      const folded: KnownOf = () => ({
        ...measured,
        foldedOn: (measuredOn) =>
          measuredOn === "programme" ? {} : integratedLufs === null ? null : { integratedLufs },
      });
      return cellIn(view([], withIt), item!, immersive, folded);
    };
    // Folded it is 2 LU louder, so that it needs 2 dB less.
    expect(of(2).prediction!.gainDb - of(0).prediction!.gainDb).toBeCloseTo(-2, 1);
    expect(of(2).leftOut).toBeNull();
    expect(of(null).leftOut).toBe("its fold-down");
    expect(cellIn(view([], withIt), item!, deliverable!, known).leftOut).toBeNull();
  });
  it("says nothing of an item whose recording is not read yet", () => {
    const waiting = { ...view(), sources: [{ ...source, state: "preparing", layout: null, figures: null } as Source] };
    const cell = cellIn(waiting, item!, deliverable!, () => null);
    expect(cell).toMatchObject({ verdict: null, prediction: null, verified: false });
    expect(toRender([cell])).toEqual([]);
  });
  it("proposes what would make a cell pass, and says what it comes to", () => {
    const wrong: Deliverable = { id: "cd", spec: "cd-44-16", format: newFormat({ sampleRate: 48000 }) };
    const withIt = applyCommand(document, { type: "addDeliverable", deliverable: wrong } as Command);
    const cell = cellIn(view([], withIt), item!, wrong, known);
    expect(cell.verdict!.fileRequirements.filter(({ met }) => !met).map(({ what }) => what)).toEqual([
      "Sample rate",
      "Depth",
    ]);
    const [way] = remediesOf(view([], withIt), cell, known);
    expect(way!.format).toMatchObject({ sampleRate: 44100, bitDepth: "16" });
  });
  it("holds the whole order against what a spec asks of it", () => {
    const album: Deliverable = { id: "album", spec: "aes77-music-album", format: newFormat() };
    const withIt = applyCommand(document, { type: "addDeliverable", deliverable: album } as Command);
    const column = columnOf(view([], withIt), album, known);
    const verdict = albumVerdict(column)!;
    expect(verdict.limits).toHaveLength(1);
    expect(verdict.limits[0]!.value).toBeCloseTo(-14, 1);
    expect(albumVerdict([cellIn(view(), item!, deliverable!, known)])).toBeNull();
  });

  it("predicts the whole of a programme in its mix by what was measured of it, and nothing of its files", () => {
    const whole: Deliverable = { ...deliverable!, id: "w", programme: "both", mix: "main" };
    const withIt = applyCommand(document, { type: "addDeliverable", deliverable: whole } as Command);
    const asked: unknown[] = [];
    const column = columnOf(view([], withIt), whole, (one, mix) => {
      asked.push([one.id, mix]);
      return { ...measured, after: measured };
    });
    expect(asked).toEqual([[PROGRAMME_ID, "main"]]);
    const [programme, file] = column;
    expect(programme!.prediction!.figures.integratedLufs).toBeCloseTo(-23, 1);
    expect(programme!.verdict).not.toBeNull();
    expect(file!.prediction).toBeNull();
  });
});
