import { afterAll, beforeEach, describe, expect, it, vi } from "vitest";
import { layoutNamed } from "@core/audio/layout";
import { PLAIN_PROGRAMME } from "@core/programme/programme";
import { joinsOf, timelineOf } from "@core/programme/timeline";
import { itemSchema } from "@core/project/document";
import { startAudition, stopAudition, useAudition, type Stretch } from "./audition";
import { endStretches, joinStretches, stretchOfJoin } from "./programme-listening";

// Other tests of this worker may have loaded the engine already, and are not to find this one.
vi.hoisted(() => vi.resetModules());
afterAll(() => void vi.resetModules());

const heard = vi.hoisted(() => ({
  played: [] as [number, number][],
  position: 0,
  state: { playing: false },
  listeners: new Set<() => void>(),
}));
vi.mock("./listening-engine", () => ({
  useEngineState: () => heard.state,
  engine: () => ({
    get state() {
      return heard.state;
    },
    get position() {
      return heard.position;
    },
    subscribe(listener: () => void) {
      heard.listeners.add(listener);
      return () => undefined;
    },
    playStretch(start: number, end: number) {
      heard.played.push([start, end]);
      become(true, start);
      return Promise.resolve();
    },
    pause: () => become(false, heard.position),
  }),
}));

function become(playing: boolean, position: number): void {
  heard.position = position;
  heard.state = { playing };
  for (const listener of heard.listeners) listener();
}

const stretches: Stretch[] = [
  { start: 0, end: 48_000, name: "join 1 → 2", item: "b" },
  { start: 90_000, end: 138_000, name: "join 2 → 3", item: "c" },
];
const at = () => useAudition.getState().audition?.at ?? null;

describe("stretches heard one after the other", () => {
  beforeEach(() => {
    stopAudition();
    heard.played.length = 0;
  });
  it("go on when one was heard to its end, and end after the last", () => {
    startAudition(stretches);
    expect(at()).toBe(0);
    become(false, 48_000);
    expect(at()).toBe(1);
    become(false, 138_000);
    expect(at()).toBeNull();
    expect(heard.played).toEqual([
      [0, 48_000],
      [90_000, 138_000],
    ]);
  });
  it("end where a person stops in the middle", () => {
    startAudition(stretches);
    become(false, 20_000);
    expect(at()).toBeNull();
    expect(heard.played).toHaveLength(1);
  });
  it("begin with any of them, and with none not at all", () => {
    startAudition(stretches, 9);
    expect(at()).toBe(1);
    stopAudition();
    startAudition([]);
    expect(at()).toBeNull();
  });
  it("do not go on for what is played otherwise", () => {
    startAudition(stretches);
    stopAudition();
    become(true, 0);
    become(false, 48_000);
    expect(heard.played).toHaveLength(1);
  });
});

describe("what is heard of a programme", () => {
  const RATE = 1000;
  const item = (id: string, placement: object = {}) =>
    itemSchema.parse({ id, name: `Title ${id}`, source: "a".repeat(64), repairs: [], chain: [], placement });
  const order = [item("a"), item("b", { gapSeconds: 2 }), item("c", { gapSeconds: -3 })];
  const layout = layoutNamed("mono")!;
  const timeline = timelineOf(order, PLAIN_PROGRAMME, () => ({ frames: 20 * RATE, sampleRate: RATE, layout }))!;
  const rolls = { before: 4, after: 5 };
  it("are joins from so long before the pause to so long after it", () => {
    expect(joinStretches({ timeline, order }, rolls)).toEqual([
      { start: 16_000, end: 27_000, name: "join 1 → 2", item: "b" },
      { start: 35_000, end: 47_000, name: "join 2 → 3", item: "c" },
    ]);
  });
  it("ends within the programme", () => {
    const [join] = joinsOf(timeline);
    expect(stretchOfJoin(join!, timeline.frames, RATE, { before: 60, after: 600 })).toEqual({
      start: 0,
      end: timeline.frames,
    });
  });
  it("are heads and tails, and short items whole", () => {
    expect(endStretches({ timeline, order }, rolls).slice(0, 2)).toEqual([
      { start: 0, end: 5000, name: "head of 1 Title a", item: "a" },
      { start: 16_000, end: 20_000, name: "tail of 1 Title a", item: "a" },
    ]);
    expect(endStretches({ timeline, order }, { before: 12, after: 12 }).map(({ name }) => name)).toEqual([
      "1 Title a",
      "2 Title b",
      "3 Title c",
    ]);
  });
  it("is nothing while the programme is not known", () => {
    expect(joinStretches({ timeline: null, order }, rolls)).toEqual([]);
    expect(endStretches({ timeline: null, order }, rolls)).toEqual([]);
  });
});
