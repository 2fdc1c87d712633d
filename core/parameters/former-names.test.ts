import { describe, expect, it } from "vitest";
import * as z from "zod";
import { readingFormerNames, withCurrentNames, withCurrentNamesThroughout } from "./former-names";

const NAMES = { where: "regions", mostDb: "maxReductionDb" };

describe("former names", () => {
  it("become today's, one level deep; what is held stays as it is", () => {
    expect(withCurrentNames({ where: [{ where: 1 }], on: true }, NAMES)).toEqual({ regions: [{ where: 1 }], on: true });
    for (const given of [undefined, null, 3, "where", ["where"]]) expect(withCurrentNames(given, NAMES)).toBe(given);
  });
  it("are none that every object has", () => {
    const given = JSON.parse('{"where": 1, "constructor": 2, "toString": 3}');
    for (const renamed of [withCurrentNames(given, NAMES), withCurrentNamesThroughout(given, NAMES)])
      expect(Object.keys(renamed as object)).toEqual(["regions", "constructor", "toString"]);
  });
  it("become today's throughout, in names of settings in rows too", () => {
    const given = { bands: [{ mostDb: 3 }], automation: { "bands.0.mostDb": [[0, 1]] } };
    expect(withCurrentNamesThroughout(given, NAMES)).toEqual({
      bands: [{ maxReductionDb: 3 }],
      automation: { "bands.0.maxReductionDb": [[0, 1]] },
    });
  });
  it("are read by a schema, which still refuses what it does not know", () => {
    const schema = readingFormerNames(z.strictObject({ regions: z.array(z.number()) }), NAMES);
    expect(schema.parse({ where: [1] })).toEqual({ regions: [1] });
    expect(schema.safeParse({ where: [1], what: 2 }).success).toBe(false);
  });
});
