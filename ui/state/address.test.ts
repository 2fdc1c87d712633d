import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { addressOf, shownBy } from "./address";
import { STAGES } from "./workspace-store";

const thousandths = (max: number) => fc.integer({ min: 0, max: max * 1000 }).map((n) => n / 1000);
const range = (max: number) =>
  fc
    .tuple(thousandths(max), thousandths(max))
    .filter(([a, b]) => a !== b)
    .map(([a, b]) => ({ start: Math.min(a, b), end: Math.max(a, b) }));
const region = fc
  .record(
    {
      range: range(36_000),
      band: range(24_000).map(({ start, end }) => ({ low: start, high: end })),
      channel: fc.nat(23),
      outline: fc.array(fc.record({ seconds: thousandths(36_000), hertz: thousandths(24_000) }), {
        minLength: 3,
        maxLength: 9,
      }),
    },
    { requiredKeys: ["range"] },
  )
  .map(({ range: stretch, ...rest }) => ({ ...stretch, ...rest }));
const shown = fc.record({
  item: fc.stringMatching(/^[a-z0-9-]{1,20}$/),
  stage: fc.constantFrom(...STAGES),
  view: fc.option(range(36_000)),
  selection: fc.option(region),
  otherSelections: fc.constant<{ start: number; end: number }[]>([]),
  cursor: thousandths(36_000),
});

describe("the address of what the workspace shows", () => {
  it("shows the same again", () => {
    fc.assert(
      fc.property(shown, (workspace) => {
        expect(shownBy(addressOf(workspace))).toEqual(workspace);
      }),
    );
  });
  it("holds further selections, and keeps what else stands in it", () => {
    const workspace: Parameters<typeof addressOf>[0] = {
      item: "i1",
      stage: "repair",
      view: null,
      selection: { start: 1, end: 2 },
      otherSelections: [{ start: 3, end: 4 }],
      cursor: 0,
    };
    const address = addressOf(workspace, "?without-processors&item=old");
    expect(address).toBe("?without-processors=&item=i1&stage=repair&selection=1%7E2&selection=3%7E4");
    expect(shownBy(address)).toMatchObject({ otherSelections: [{ start: 3, end: 4 }] });
  });
  it.each([
    "",
    "?",
    "?stage=shape",
    "?item=i1&view=5~1&selection=x~y&at=-3&stage=opera",
    "?item=i1&selection=1~2_b9~1_cx_s1:2:3",
  ])("of anything else shows what can be understood of it: %s", (search) => {
    const { view = null, cursor = 0, stage, selection = null } = shownBy(search);
    expect({ view, cursor, stage }).toEqual({ view: null, cursor: 0, stage: undefined });
    if (selection) expect(selection).toEqual({ start: 1, end: 2 });
  });
});
