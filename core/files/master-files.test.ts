/** Masters as the core writes them, read back: sound, tags, chapters, and which channel is which. */
import { XMLParser } from "fast-xml-parser";
import { describe, expect, it } from "vitest";
import { layoutNamed, LAYOUTS } from "../audio/layout";
import type { Container, Depth } from "./containers";
import { noise } from "../testing/signals";
import { admXml } from "./adm-document";
import { MemorySink, memorySource } from "./bytes";
import { openMasterWriter } from "./master-writer";
import { openSoundFile } from "./open";
import { newTags, type Tags } from "./tags";

const TAGS = newTags({
  title: "Low Door & “Sluice” № 4",
  artist: "The Quiet Sluices",
  album: "Saltmarsh Hours",
  albumArtist: "The Quiet Sluices",
  composer: "Merle Tan",
  publisher: "Longshore Pressings",
  genre: "Folk",
  date: "2026-11-26",
  isrc: "ZZ-S1H-26-00004",
  barcode: "4006381333931",
  catalogue: "LSP 014",
  comment: "Größe <quer>",
  track: 4,
  tracks: 7,
  chapters: [
    { title: "Beginning", startSeconds: 0 },
    { title: "Wāter", startSeconds: 0.25 },
  ],
});

async function written(container: Container, depth: Depth, layoutName = "stereo", tags: Tags = TAGS, frames = 24_001) {
  const layout = layoutNamed(layoutName)!;
  const block = layout.speakers.map((_, c) => noise(frames / 48000, 48000, -12, c + 1).subarray(0, frames));
  const sink = new MemorySink();
  const broadcast = {
    description: "x",
    originator: "Resonum",
    originatorReference: "",
    date: "",
    time: "",
    timeReference: 0,
  };
  const writer = await openMasterWriter(sink, { container, depth, sampleRate: 48000, layout, frames, tags, broadcast });
  const scale = depth === "32f" ? 1 : 2 ** (Number(depth) - 1);
  const whole = block.map((x) => Int32Array.from(x, (v) => Math.round(v * scale)));
  if (depth === "32f") await writer.writeFloat(block, frames);
  else await writer.writeIntegers(whole, frames);
  await writer.finish();
  const file = (await openSoundFile(memorySource(sink.bytes())))!;
  return { bytes: sink.bytes(), file, block, whole, scale };
}

describe("masters written by the core", () => {
  const kinds: [Container, Depth][] = (["wav", "rf64", "bw64", "aiff"] as const).flatMap((container) =>
    (["16", "24", "32", "32f"] as const).map((depth): [Container, Depth] => [container, depth]),
  );
  it.each(kinds)("%s at %s bit reads back sample for sample, with its tags", async (container, depth) => {
    const { file, block, whole, scale } = await written(container, depth);
    expect(file).toMatchObject({ sampleRate: 48000, channels: 2, frames: 24_001, warnings: [] });
    const back = await file.read(0, file.frames);
    back.forEach((x, c) => {
      const wanted = depth === "32f" ? block[c]! : Float32Array.from(whole[c]!, (v) => v / scale);
      expect(x.every((v, i) => v === wanted[i])).toBe(true);
    });
    expect(file.tags).toEqual(TAGS);
  });

  it("RF64 and BW64 say so, whatever their length", async () => {
    const text = (bytes: Uint8Array) => String.fromCharCode(...bytes.subarray(0, 4));
    expect(text((await written("rf64", "24")).bytes)).toBe("RF64");
    expect(text((await written("bw64", "24")).bytes)).toBe("BW64");
  });

  it.each(LAYOUTS.map(({ name }) => name))("BW64 tells the layout %s by its ADM alone", async (name) => {
    const { file } = await written("bw64", "24", name, TAGS, 480);
    expect(file.layout?.speakers.map(({ label }) => label)).toEqual(
      layoutNamed(name)!.speakers.map(({ label }) => (label === "M" ? "C" : label)),
    );
  });

  it("tags that say nothing leave no chunk behind", async () => {
    const { file } = await written("wav", "16", "mono", newTags({ title: "Only a title" }), 100);
    expect(file.tags).toBeUndefined();
  });
});

describe("the Audio Definition Model that is written", () => {
  const parser = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: "@",
    isArray: (name) => /^audio|position/.test(name),
  });
  const facts = { title: "A & B", durationSeconds: 3661.5, sampleRate: 48000, bits: 24 };
  type Node = Record<string, unknown>;
  const all = (node: unknown, found: [string, Node][] = []): [string, Node][] => {
    if (typeof node !== "object" || node === null) return found;
    for (const [name, value] of Object.entries(node))
      for (const one of Array.isArray(value) ? value : [value]) {
        if (typeof one === "object" && one !== null) found.push([name, one as Node]);
        all(one, found);
      }
    return found;
  };

  it.each(["stereo", "5.1", "7.1.4", "22.2"])("keeps the rules of BS.2076 for %s", (name) => {
    const layout = layoutNamed(name)!;
    const nodes = all(parser.parse(admXml(layout, facts)));
    const idOf = (node: Node) =>
      Object.entries(node).find(([key]) => /^@(audio\w+ID|UID)$/.test(key))?.[1] as string | undefined;
    const ids = nodes.flatMap(([, node]) => idOf(node) ?? []);
    expect(new Set(ids).size).toBe(ids.length);
    // Every reference leads to something.
    const text = admXml(layout, facts);
    const references = [...text.matchAll(/IDRef>([^<]+)</g), ...text.matchAll(/UIDRef>([^<]+)</g)].map(([, id]) => id!);
    expect(references.length).toBeGreaterThan(0);
    for (const reference of references) expect(ids).toContain(reference);
    const forms = {
      AP: /^AP_\w{8}$/,
      AC: /^AC_\w{8}$/,
      AS: /^AS_\w{8}$/,
      AT: /^AT_\w{8}_\w{2}$/,
      AB: /^AB_\w{8}_\w{8}$/,
    };
    for (const id of ids) {
      const form = forms[id.slice(0, 2) as keyof typeof forms];
      if (form && id[2] === "_") expect(id).toMatch(form);
    }
    const channels = nodes.filter(([kind]) => kind === "audioChannelFormat").map(([, node]) => node);
    expect(channels).toHaveLength(layout.speakers.length);
    for (const [, block] of nodes.filter(([kind]) => kind === "audioBlockFormat")) {
      const positions = block.position as { "@coordinate": string; "#text": number }[];
      const at = Object.fromEntries(positions.map((one) => [one["@coordinate"], Number(one["#text"])]));
      expect(Math.abs(at.azimuth!)).toBeLessThanOrEqual(180);
      expect(Math.abs(at.elevation!)).toBeLessThanOrEqual(90);
    }
    const [, programme] = nodes.find(([kind]) => kind === "audioProgramme")!;
    expect(programme["@end"]).toBe("01:01:01.50000");
  });
});

describe("codes", () => {
  it("are checked: ISRC by form, barcodes by their last digit", () => {
    expect(newTags({ isrc: "zz-s1h-26-00001" }).isrc).toBe("ZZS1H2600001");
    expect(() => newTags({ isrc: "ZZS1H26" })).toThrow(/ISRC/);
    expect(() => newTags({ barcode: "4006381333932" })).toThrow(/barcode/);
  });
});
