import type { ChainEntry } from "../processors";
import { recordingClip } from "../edit-list/clip";
import { describe, expect, it } from "vitest";
import { newFormat } from "../delivery/recipe";
import { canonicalJson } from "../math/canonical-json";
import { layoutNamed } from "../audio/layout";
import type { Deliverable, Item } from "./document";
import { masterInputs, masterKey, soundInputs } from "./master-inputs";
import { tagsOf } from "./master-tags";
import { newProject } from "./templates";

const item: Item = { id: "a", name: "Reed", source: "d".repeat(64), repairs: [], chain: [], markers: [] };
const deliverable: Deliverable = { id: "d1", spec: "ebu-r128", format: newFormat() };
const stereo = layoutNamed("stereo")!;
const empty = newProject("Reeds", "music");

function key(
  i: Item,
  d: Deliverable = deliverable,
  layout = stereo,
  chain: ChainEntry[] = [],
  more: Item[] = [],
): string {
  const document = { ...empty, items: [i, ...more], chain };
  return masterKey(masterInputs(document, i, d, () => ({ layout, sampleRate: 48000, frames: 96000 }))!);
}

describe("what decides a master's bytes", () => {
  it("is everything that is heard or written", () => {
    const keys = [
      key(item),
      key({ ...item, name: "Other" }),
      key({ ...item, source: "e".repeat(64) }),
      key({ ...item, clips: [recordingClip(0, 100)] }),
      key({ ...item, chain: [{ type: "gain", bypass: false, gainDb: 1 }] }),
      key({ ...item, chain: [{ type: "gain", bypass: true, gainDb: 1 }] }),
      key(item, { ...deliverable, spec: "streaming-14" }),
      key(item, { ...deliverable, format: newFormat({ bitDepth: "16" }) }),
      key(item, { ...deliverable, format: newFormat({ sampleRate: 44100 }) }),
      key(item, deliverable, layoutNamed("mono")!),
      key(item, deliverable, stereo, [{ type: "gain", bypass: false, gainDb: 2 }]),
    ];
    expect(new Set(keys).size).toBe(keys.length);
  });
  it("holds settings that are only kept to be flipped to for nothing", () => {
    const plain = { type: "gain", bypass: false, gainDb: 1 };
    const both = { ...plain, alternateSettings: { gainDb: 5 }, usesAlternate: true };
    expect(key({ ...item, chain: [both] })).toBe(key({ ...item, chain: [plain] }));
  });
  it("holds the other items where one gain keeps their relations, and only there", () => {
    const album: Deliverable = { ...deliverable, spec: "aes77-music-album" };
    const louder: Item = { ...item, id: "b", chain: [{ type: "gain", bypass: false, gainDb: 3 }] };
    const other: Item = { ...item, id: "b" };
    expect(key(item, album, stereo, [], [louder])).not.toBe(key(item, album, stereo, [], [other]));
    expect(key(item, deliverable, stereo, [], [louder])).toBe(key(item, deliverable, stereo, [], [other]));
  });
  it("carries the item's own cover and notes, else those of the whole; its sound stays the same", () => {
    const about = { ...empty.about, cover: "c".repeat(64), comment: "A serial" };
    const episode: Item = {
      ...item,
      about: { artist: "", composer: "", isrc: "", comment: "Third part", cover: "b".repeat(64) },
    };
    const inputsOf = (one: Item) =>
      masterInputs({ ...empty, about, items: [one] }, one, deliverable, () => ({
        layout: stereo,
        sampleRate: 48000,
        frames: 96000,
      }))!;
    expect([inputsOf(item), inputsOf(episode)].map(({ cover }) => cover![0])).toEqual(["c", "b"]);
    expect([inputsOf(item), inputsOf(episode)].map(({ tags }) => tags.comment)).toEqual(["A serial", "Third part"]);
    expect(canonicalJson(soundInputs(inputsOf(episode)))).toBe(canonicalJson(soundInputs(inputsOf(item))));
  });
  it("waits for recordings that are not read", () => {
    expect(masterInputs({ ...empty, items: [item] }, item, deliverable, () => null)).toBeNull();
  });
  it("tells chapters where they are heard: after a cut they come earlier, and what is cut out is not told", () => {
    const marker = (id: string, start: number) => ({ id, kind: "chapter" as const, name: id, start });
    const cut: Item = {
      ...item,
      clips: [recordingClip(0, 48_000), recordingClip(60_000, 96_000)],
      markers: [marker("one", 0), marker("gone", 50_000), marker("two", 72_000)],
      about: { artist: "", composer: "Ola Vint", isrc: "", comment: "" },
    };
    const recording = { layout: stereo, sampleRate: 48000, frames: 96000 };
    const late = tagsOf({ ...empty, items: [cut] }, cut, { ...recording, startSeconds: 3600 });
    expect(late.startSeconds).toBeCloseTo(3600 + cut.clips![0]!.start / 48_000, 9);
    const tags = tagsOf({ ...empty, items: [cut] }, cut, recording);
    expect(tags.startSeconds).toBeUndefined();
    expect(tags.chapters).toEqual([
      { title: "one", startSeconds: 0 },
      { title: "two", startSeconds: 1.25 },
    ]);
    expect(tags).toMatchObject({ title: "Reed", album: "Reeds", composer: "Ola Vint", track: 1, tracks: 0 });
  });
  it("is not how many other items there are: one that comes later changes no master", () => {
    const later: Item = { ...item, id: "z", name: "Later" };
    expect(key(item, deliverable, stereo, [], [later])).toBe(key(item));
  });
  it("is, of a video, not what would stand in other files' headers", () => {
    const video: Deliverable = { ...deliverable, format: newFormat({ container: "video" }) };
    const signed = { ...item, about: { artist: "Odda Vane", composer: "", isrc: "", comment: "" } };
    expect(key(signed, video)).toBe(key(item, video));
    expect(key(signed)).not.toBe(key(item));
  });
  it("of its sound is all but what stands in its header", () => {
    const inputs = (i: Item) =>
      masterInputs({ ...empty, items: [i] }, i, deliverable, () => ({
        layout: stereo,
        sampleRate: 48000,
        frames: 96000,
      }))!;
    const other = { ...item, name: "Other" };
    expect(canonicalJson(soundInputs(inputs(other)))).toBe(canonicalJson(soundInputs(inputs(item))));
    const louder = { ...item, chain: [{ type: "gain", bypass: false, gainDb: 1 }] };
    expect(canonicalJson(soundInputs(inputs(louder)))).not.toBe(canonicalJson(soundInputs(inputs(item))));
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
