import { describe, expect, it } from "vitest";
import type { ReviewFile } from "@core/review/views";
import { blindOrder, letterOf, titlesOf } from "./titles";

const file = (position: number, item: string): ReviewFile =>
  ({ position, item_id: item, title: item.toUpperCase(), file_hash: String(position).repeat(64) }) as ReviewFile;

describe("titles of a review", () => {
  it("hold the files of one item, in the order in which they were sent", () => {
    const titles = titlesOf([file(0, "a"), file(1, "b"), file(2, "a")]);
    expect(titles.map(({ title, files }) => [title, files.map(({ position }) => position)])).toEqual([
      ["A", [0, 2]],
      ["B", [1]],
    ]);
  });
  it("are heard blind in an order that stays the same for a guest, and is another for others", () => {
    const files = [0, 1, 2, 3, 4].map((position) => file(position, "a"));
    const orderOf = (name: string) => blindOrder(files, name).map(({ position }) => position);
    expect(orderOf("Wen")).toEqual(orderOf("Wen"));
    expect([...orderOf("Wen")].sort()).toEqual([0, 1, 2, 3, 4]);
    expect(new Set(["Wen", "Ines", "Marl", "Alder", "Rill"].map((name) => orderOf(name).join())).size).toBeGreaterThan(
      1,
    );
    expect([0, 1, 25].map(letterOf)).toEqual(["A", "B", "Z"]);
  });
});
