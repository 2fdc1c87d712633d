import { describe, expect, it } from "vitest";
import { processorNamed, settingsOf } from "../processors";
import { repairNamed } from "../repair";
import { TEMPLATES } from "./templates";
import { USUAL_CHAINS, USUAL_REPAIRS, usualEntry } from "./usual-work";

describe("what is usual in a kind of project", () => {
  it.each(TEMPLATES.map(({ id }) => id))("%s: names processors, presets and repairs that are there", (id) => {
    for (const processor of USUAL_CHAINS[id]) {
      const { presets, parameters } = processorNamed(processor.type);
      const preset = presets.find(({ name }) => name === processor.preset);
      expect(preset, `${processor.type}: ${processor.preset}`).toBeDefined();
      const entry = usualEntry(processor, "e");
      expect(settingsOf(entry)).toMatchObject(preset!.settings as object);
      expect(Object.keys(settingsOf(entry)).sort()).toEqual(Object.keys(parameters).sort());
      expect(entry).toMatchObject({ id: "e", type: processor.type, bypass: false });
    }
    for (const { type } of USUAL_REPAIRS[id]) expect(repairNamed(type).name).not.toBe("");
    expect(new Set(USUAL_CHAINS[id].map(({ type }) => type)).size).toBe(USUAL_CHAINS[id].length);
  });

  it("ends with what holds peaks, wherever something may lift them", () => {
    for (const chain of Object.values(USUAL_CHAINS)) expect(chain.at(-1)!.type).toBe("limiter");
  });
});
