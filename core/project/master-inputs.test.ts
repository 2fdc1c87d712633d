import type { ChainEntry } from "../process";
import { stretchPiece } from "../arrange/piece";
import { describe, expect, it } from "vitest";
import { canonicalJson } from "../render/recipe";
import { layoutNamed } from "../signal/layout";
import type { Deliverable, Item } from "./document";
import { masterInputs, masterKey } from "./master-inputs";

const item: Item = { id: "a", name: "Reed", source: "d".repeat(64), repairs: [], chain: [], markers: [] };
const deliverable: Deliverable = { id: "d1", spec: "ebu-r128", format: { bits: "24" } };
const stereo = layoutNamed("stereo")!;
const key = (i: Item, d: Deliverable = deliverable, layout = stereo, chain: ChainEntry[] = []) =>
  masterKey(masterInputs({ chain }, i, d, layout));

describe("what decides a master's bytes", () => {
  it("is everything that is heard or written", () => {
    const keys = [
      key(item),
      key({ ...item, name: "Other" }),
      key({ ...item, source: "e".repeat(64) }),
      key({ ...item, pieces: [stretchPiece(0, 100)] }),
      key({ ...item, chain: [{ type: "gain", bypass: false, gainDb: 1 }] }),
      key({ ...item, chain: [{ type: "gain", bypass: true, gainDb: 1 }] }),
      key(item, { ...deliverable, spec: "streaming-14" }),
      key(item, { ...deliverable, format: { bits: "16" } }),
      key(item, { ...deliverable, format: { bits: "24", sampleRate: 44100 } }),
      key(item, deliverable, layoutNamed("mono")!),
      key(item, deliverable, stereo, [{ type: "gain", bypass: false, gainDb: 2 }]),
    ];
    expect(new Set(keys).size).toBe(keys.length);
  });
  it("holds settings that are only kept to be flipped to for nothing", () => {
    const plain = { type: "gain", bypass: false, gainDb: 1 };
    const both = { ...plain, other: { gainDb: 5 }, second: true };
    expect(key({ ...item, chain: [both] })).toBe(key({ ...item, chain: [plain] }));
  });
  it("is not what things are called within the project", () => {
    expect(key({ ...item, id: "b" }, { ...deliverable, id: "d9" })).toBe(key(item));
  });
});

describe("canonical JSON", () => {
  it("does not depend on the order of keys, nor on what is undefined", () => {
    expect(canonicalJson({ b: 1, a: { d: [1, { z: 1, y: 2 }], c: undefined } })).toBe(
      '{"a":{"d":[1,{"y":2,"z":1}]},"b":1}',
    );
    expect(JSON.parse(canonicalJson({ text: "“x”", none: null }))).toEqual({ text: "“x”", none: null });
  });
});
