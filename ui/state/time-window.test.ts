import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { around, following, scrolled, secondsAt, xOf, zoomed } from "./time-window";

const view = { start: 10, end: 30 };

describe("the window on the programme", () => {
  it("keeps the place under the pointer while zooming", () => {
    for (const factor of [0.6, 1.7, 40]) {
      const next = zoomed(view, factor, 14, 100);
      if (next.start > 0 && next.end < 100) expect(xOf(14, next, 1000)).toBeCloseTo(xOf(14, view, 1000), 6);
    }
  });
  it("never leaves the item, whatever is done to it", () => {
    const moves = fc.array(fc.tuple(fc.constantFrom("zoom", "scroll"), fc.double({ min: -50, max: 50, noNaN: true })), {
      maxLength: 30,
    });
    fc.assert(
      fc.property(moves, fc.double({ min: 0.1, max: 36_000, noNaN: true }), (list, duration) => {
        let now = { start: 0, end: duration };
        for (const [kind, amount] of list) {
          now =
            kind === "zoom"
              ? zoomed(now, Math.exp(amount / 10), (now.start + now.end) / 2, duration)
              : scrolled(now, amount, duration);
          expect(now.start).toBeGreaterThanOrEqual(0);
          expect(now.end).toBeLessThanOrEqual(duration + 1e-9);
          expect(now.end).toBeGreaterThan(now.start);
        }
      }),
    );
  });
  it("turns pixels to seconds and back", () =>
    expect(secondsAt(xOf(17.25, view, 933), view, 933)).toBeCloseTo(17.25, 9));
  it("follows only what has left it", () => {
    expect(following(view, 20, 100)).toBe(view);
    expect(following(view, 31, 100).start).toBeCloseTo(29, 6);
  });
  it("shows a stretch with air around it", () =>
    expect(around({ start: 40, end: 50 }, 100)).toEqual({ start: 39, end: 51 }));
});
