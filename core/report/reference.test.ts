import { describe, expect, it } from "vitest";
import { MEASUREMENTS } from "../measure";
import { PROCESSORS } from "../processors";
import { REPAIRS } from "../repair";
import { SPECS } from "../delivery/specs";
import { referencePages } from "./reference";

const pageOf = (file: string) => referencePages().find((page) => page.file === file)!.text;
const ids = (text: string) => [...text.matchAll(/^`([a-z0-9-]+)`[.,]/gm)].map(([, id]) => id);

describe("reference pages", () => {
  it("name everything that there is, in its order", () => {
    expect(ids(pageOf("processors.md"))).toEqual(PROCESSORS.map(({ id }) => id));
    expect(ids(pageOf("repairs.md"))).toEqual(REPAIRS.map(({ id }) => id));
    expect(ids(pageOf("specifications.md"))).toEqual(SPECS.map(({ id }) => id));
    for (const { id } of MEASUREMENTS) expect(pageOf("measurements.md")).toContain(`\`${id}\``);
  });

  it("give each parameter with its range, its unit and its default", () => {
    const row = pageOf("processors.md")
      .split("\n")
      .find((line) => line.includes("`thresholdDb`"))!;
    expect(row).toMatch(/\| Threshold +\| −\d+ to [−\d]+ dB/);
    for (const { parameters } of PROCESSORS)
      for (const name of Object.keys(parameters)) expect(pageOf("processors.md")).toContain(`\`${name}\``);
  });

  it("give each limit with its clause", () => {
    for (const { limits } of SPECS)
      for (const { clause } of limits) expect(pageOf("specifications.md")).toContain(clause);
  });
});
