import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { CHANNEL_ORDERS, inOrder, orderOf } from "./channel-orders";
import { LAYOUTS, layoutFromMask, layoutNamed } from "./layout";

const labels = (name: string, order: (typeof CHANNEL_ORDERS)[number]) =>
  inOrder(layoutNamed(name)!, order)
    .speakers.map(({ label }) => label)
    .join(" ");

describe("orders of channels", () => {
  it.each([
    ["5.1", "SMPTE, BS.2051, ADM", "L R C LFE Ls Rs"],
    ["5.1", "WAVE mask", "L R C LFE Ls Rs"],
    ["5.1", "film", "L C R Ls Rs LFE"],
    ["5.1", "MPEG", "C L R Ls Rs LFE"],
    ["7.1", "SMPTE, BS.2051, ADM", "L R C LFE Lss Rss Lb Rb"],
    ["7.1", "WAVE mask", "L R C LFE Lb Rb Lss Rss"],
    ["7.1", "film", "L C R Lss Rss Lb Rb LFE"],
    ["7.1.4", "SMPTE, BS.2051, ADM", "L R C LFE Lss Rss Lb Rb Ltf Rtf Ltb Rtb"],
    ["LCR", "film", "L C R"],
  ] as const)("of %s in %s are %s", (name, order, wanted) => expect(labels(name, order)).toBe(wanted));

  it("agree with what a channel mask says", () => {
    // L R C LFE, back and side pairs.
    expect(
      layoutFromMask(0x63f, 8)!
        .speakers.map(({ label }) => label)
        .join(" "),
    ).toBe(labels("7.1", "WAVE mask"));
  });

  it("keep every speaker, once, and lead back from any order", () =>
    fc.assert(
      fc.property(
        fc.constantFrom(...LAYOUTS),
        fc.constantFrom(...CHANNEL_ORDERS),
        fc.constantFrom(...CHANNEL_ORDERS),
        (layout, through, to) => {
          const there = inOrder(inOrder(layout, through), to);
          expect(there).toEqual(inOrder(layout, to));
          expect(new Set(there.speakers.map(({ label }) => label)).size).toBe(layout.speakers.length);
        },
      ),
    ));

  it("are told of a layout, where its order has a name", () => {
    expect(orderOf(inOrder(layoutNamed("7.1.4")!, "film"))).toBe("film");
    const { name, speakers } = layoutNamed("5.1")!;
    expect(orderOf({ name, speakers: speakers.toReversed() })).toBeNull();
    expect(inOrder(layoutNamed("5.1")!, "film").name).toBe("5.1, film order");
    expect(inOrder(inOrder(layoutNamed("5.1")!, "film"), "SMPTE, BS.2051, ADM").name).toBe("5.1");
  });
});
