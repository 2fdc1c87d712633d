import { describe, expect, it } from "vitest";
import type { SoughtEvents } from "../events/sought-events";
import { specNamed } from "../delivery/specs";
import { format, measured } from "../testing/measured";
import { joined, noise } from "../testing/signals";
import { findingsOf } from ".";
import { mendingOf } from "./mending";

const RATE = 16_000;
const a = noise(3, RATE, -14, 1);
const stereo = format(RATE, "stereo");
const clicks: SoughtEvents = { kind: "clicks", count: 25, places: [{ seconds: 1.5, length: 0.001 }] };

const mendings = (block: Float32Array[], sought: SoughtEvents[] = [], specId: string | null = null) => {
  const figures = measured(block, stereo);
  const spec = specId === null ? null : specNamed(specId);
  return new Map(
    findingsOf(figures, spec, sought).map((finding) => [
      `${finding.kind}${finding.about === null ? "" : ` ${finding.about}`}`,
      mendingOf(finding, figures, spec, sought),
    ]),
  );
};

describe("what mends a finding", () => {
  it("is declipping at the level that was measured", () => {
    const clipped = a.map((v) => 0.794 * Math.max(-0.1, Math.min(0.1, v)));
    const mending = mendings([clipped, clipped.map((v) => 0.9 * v)]).get("clipping");
    if (mending?.kind !== "repair") throw new Error("no repair");
    const levelDbfs = Number(mending.step["levelDbfs"]);
    expect(mending.step.type).toBe("clipping");
    expect(levelDbfs).toBeGreaterThan(-23);
    expect(levelDbfs).toBeLessThan(-22);
  });
  it("is a processor where no repair is wanted: a constant offset", () => {
    const mending = mendings([a.map((v) => v + 0.02), noise(3, RATE, -14, 2)]).get("dc 0");
    expect(mending).toMatchObject({ kind: "processor", entry: { type: "channels", blockDc: true } });
  });
  it("is the side that sounds for one that is dead", () => {
    const mending = mendings([a, new Float32Array(a.length)]).get("channel R");
    expect(mending).toMatchObject({ kind: "repair", step: { type: "channel-repair" } });
  });
  it("is the click repair for what the search found, told with its count", () => {
    expect(findingsOf(measured([a, a], stereo), null, [clicks]).map(({ title }) => title)).toContain("25 clicks");
    expect(mendings([a, noise(3, RATE, -14, 2)], [clicks]).get("events clicks")).toMatchObject({
      kind: "repair",
      step: { type: "clicks" },
    });
  });
  it("is done by hand where only a person can tell: breaths, ends", () => {
    const silent = (x: Float32Array) => joined(new Float32Array(2 * RATE), x);
    const breaths: SoughtEvents = { ...clicks, kind: "breaths" };
    const found = mendings([silent(a), silent(noise(3, RATE, -14, 2))], [breaths]);
    expect(found.get("digital-silence head")).toMatchObject({ kind: "by hand", view: "time" });
    expect(found.get("events breaths")).toMatchObject({ kind: "by hand", view: "lists" });
  });
  it("is nothing where only another recording helps", () => {
    const nothing = mendings([new Float32Array(RATE), new Float32Array(RATE)]);
    expect(nothing.get("digital-silence")).toBeNull();
  });
});
