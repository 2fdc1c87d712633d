/** Documents, manifests and masters as version 1 wrote them are read for good. */
import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { clipsSchema } from "../edit-list/clip";
import { deliverySpecSchema } from "../delivery/spec";
import { formatSchema } from "../delivery/recipe";
import { processorNamed, settingsOf } from "../processors";
import { repairNamed, repairSettings } from "../repair";
import { applyCommand } from "./commands";
import { migrateDocument, openDocument } from "./document";
import { manifestSchema } from "./manifest";
import { openMaster } from "./stored-master";
import type { Master } from "./views";

const read = (name: string) => JSON.parse(readFileSync(`tests/fixtures/documents/${name}.json`, "utf8"));
const stored = read("version-1");
const document = openDocument(stored);
const item = document.items[0]!;

describe("a document of version 1", () => {
  it("becomes one of version 2, which is read as it is", () => {
    expect(document.version).toBe(2);
    expect(openDocument(JSON.parse(JSON.stringify(document)))).toEqual(document);
    expect(migrateDocument(document)).toBe(document);
  });
  it("keeps all that was decided", () => {
    expect(document.activeDeliverable).toBe("d-1");
    expect(document.noiseProfiles).toHaveLength(1);
    expect(item.clips!.map(({ kind }) => kind)).toEqual(["recording", "room-tone", "recording", "silence"]);
    expect(item.clips![1]).toMatchObject({
      crossfade: { shape: "linear", seconds: 0.02 },
      profile: { seconds: expect.any(Number) },
    });
    expect(document.items[1]!.clips).toEqual([{ kind: "recording", start: 480, end: 96_000 }]);
    expect(document.specs[0]).toMatchObject({
      gainScope: "album",
      fileRequirements: { minBitrateKbps: 192, constantBitrate: true },
    });
    expect(document.specs[0]!.limits[1]).toMatchObject({ scope: "channel", required: false, marginalWithin: 0.1 });
    expect(document.deliverables[1]!.format).toMatchObject({
      container: "mp3",
      bitrateKbps: 256,
      variableBitrate: true,
    });
  });
  it("keeps every setting of every processor and repair", () => {
    expect(item.chain).toHaveLength(stored.items[0].chain.length);
    item.chain.forEach((entry, i) => {
      const former = stored.items[0].chain[i];
      expect(entry.type).toBe(former.type);
      expect(Object.values(settingsOf(entry)).map((v) => JSON.stringify(v)).length).toBe(
        Object.keys(processorNamed(entry.type).parameters).length,
      );
      // What a de-esser takes away is heard while it is monitored: that it could be left on was a setting once.
      const kept = (given: object) =>
        Object.keys(given).filter((name) => entry.type !== "de-esser" || name !== "listen");
      const added = entry.type === "de-esser" ? ["toHz"] : [];
      expect(Object.keys(entry).filter((name) => !added.includes(name))).toHaveLength(kept(former).length);
      expect(Object.values(entry.alternateSettings ?? {})).toHaveLength(kept(former.other ?? {}).length);
      expect(Object.values(entry.automation ?? {})).toEqual(Object.values(former.lines ?? {}));
    });
    item.repairs.forEach((step, i) => {
      const former = stored.items[0].repairs[i];
      expect(step.regions).toEqual(former.where);
      expect(step.excludedRegions).toEqual(former.except);
      expect(step.enabled).toBe(former.on);
      const known = Object.keys(repairNamed(step.type).parameters);
      expect(Object.keys(repairSettings(step))).toEqual(known);
      expect(Object.keys(step)).toHaveLength(Object.keys(former).length);
    });
  });
  it("keeps an entry that it could not use, with its words", () => {
    const chain = [
      { type: "set-aside", bypass: true, why: "There is no such processor.", kept: { type: "star", on: 1 } },
    ];
    const [entry] = openDocument({ ...stored, chain }).chain;
    expect(entry).toMatchObject({ type: "unavailable", reason: "There is no such processor.", original: { on: 1 } });
  });
});

describe("what else version 1 wrote", () => {
  it("manifests and the inputs of masters", () => {
    const [entry] = manifestSchema.parse(read("manifest-1")).masters;
    expect(entry!.inputs.clips).toHaveLength(4);
    expect(entry!.inputs.recipe.repairs.map(({ type }) => type)).toContain("speech-denoise");
  });
  it("masters with their verdicts", () => {
    const { inputs } = read("manifest-1").masters[0];
    const verdict = {
      specId: "own-20",
      pass: true,
      standing: "inside",
      demands: [],
      limits: [
        {
          limit: { figure: "truePeakDbtp", of: "item", hard: true, close: 0.1 },
          value: -2,
          margin: 1,
          standing: "inside",
        },
      ],
    };
    const master = openMaster({ inputs, result: { verdict } } as unknown as Master);
    expect(master.result!.verdict).toMatchObject({
      status: "pass",
      fileRequirements: [],
      limits: [{ status: "pass", limit: { scope: "item", required: true } }],
    });
    expect(master.inputs.recipe.format.bitDepth).toBe("24");
    expect(openMaster(master)).toBe(master);
    // Between the two there was a version with today's names and the former statuses.
    const between = { ...verdict, status: "outside", limits: [{ status: "close" }] };
    const opened = openMaster({ ...master, result: { verdict: between } } as unknown as Master);
    expect(opened.result!.verdict).toMatchObject({ status: "fail", limits: [{ status: "marginal" }] });
  });
  it("edits that were not answered yet: they are made, to the same end as today's", () => {
    type Sent = { type: string } & Record<string, unknown>;
    const pairs: [Sent, Sent][] = [
      [
        { type: "switchRepair", item: "i-1", step: "s-noise", on: false },
        { type: "switchRepair", item: "i-1", step: "s-noise", enabled: false },
      ],
      [
        { type: "setParameter", item: "i-1", entry: "e-de-esser", parameter: "mostDb", setting: 3 },
        { type: "setParameter", item: "i-1", entry: "e-de-esser", parameter: "maxReductionDb", setting: 3 },
      ],
      [
        { type: "setRepair", item: "i-1", step: "s-spikes", changes: { lineDbfs: -9, where: [] }, what: "all" },
        { type: "setRepair", item: "i-1", step: "s-spikes", changes: { thresholdDbfs: -9, regions: [] }, what: "all" },
      ],
    ];
    for (const [former, current] of pairs) {
      const made = applyCommand(document, former);
      expect(made).not.toEqual(document);
      expect(made).toEqual(applyCommand(document, current));
    }
  });
  it("formats, specs and clips that stand by themselves", () => {
    expect(formatSchema.parse({ bits: "16", kbps: 128 })).toMatchObject({ bitDepth: "16", bitrateKbps: 128 });
    expect(deliverySpecSchema.parse(stored.specs[0]).gainScope).toBe("album");
    expect(clipsSchema.parse(stored.items[0].pieces)).toEqual(item.clips);
  });
});
