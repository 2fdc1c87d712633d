import { describe, expect, it } from "vitest";
import { learnNoiseProfile } from "../repair/noise-profile";
import { steadyNoise } from "../testing/degraded";
import { recordingClip } from "../edit-list/clip";
import { applyCommand, commandLabel, type Command } from "./commands";
import { itemSchema, projectSchema } from "./document";
import { newProject } from "./templates";

const hash = "a".repeat(64);
const item = { id: "one", name: "One", source: hash, repairs: [], chain: [], markers: [] };
const project = projectSchema.parse({
  ...newProject("Morrow Lock", "audiobook"),
  sources: [{ hash, name: "one.wav" }],
  items: [item],
});

describe("an item's pieces", () => {
  it("of a document from before there were any are the stretch that it used", () => {
    const read = itemSchema.parse({ ...item, range: { start: 100, end: 900 } });
    expect(read).toEqual({ ...item, clips: [recordingClip(100, 900)] });
    expect(itemSchema.parse(item)).toEqual(item);
  });
  it("are set and opened by commands that say what was done", () => {
    const command: Command = {
      type: "setPieces",
      item: "one",
      clips: [recordingClip(5, 9)],
      what: "cut 0.10 s at 0:01.00",
    };
    expect(commandLabel(command, project)).toBe("“One”: cut 0.10 s at 0:01.00");
    const cut = applyCommand(project, command);
    expect(cut.items[0]!.clips).toEqual([recordingClip(5, 9)]);
    const opened = applyCommand(cut, { ...command, clips: null, what: "open all cuts" } as Command);
    expect(opened).toEqual(project);
  });
  it.each([
    [[], /cannot be empty/],
    [[{ kind: "recording", start: 9, end: 3 }], /ends before it begins/],
    [[{ kind: "room-tone", start: 0, end: 3 }], /room tone, and nothing else, has a profile/],
  ])("are refused with what is wrong: %j", (clips, problem) => {
    expect(() => applyCommand(project, { type: "setPieces", item: "one", clips, what: "x" } as never)).toThrow(problem);
  });
});

describe("noises kept by name", () => {
  const profile = learnNoiseProfile([steadyNoise("room", 8000, 8000, 1)], 8000);
  const kept = { id: "n1", name: "Reading room", profile };
  it("are kept once, and forgotten", () => {
    const keep: Command = { type: "keepProfile", profile: kept };
    const next = applyCommand(project, keep);
    expect(next.noiseProfiles).toEqual([kept]);
    expect(() => applyCommand(next, keep)).toThrow(/already kept/);
    const forget: Command = { type: "removeProfile", profile: "n1" };
    expect(commandLabel(forget, next)).toBe("Forget the noise “Reading room”");
    expect(applyCommand(next, forget)).toEqual(project);
    expect(() => applyCommand(project, forget)).toThrow(/no longer in the project/);
  });
});
