/** What the command line hands on to the programs that look after a studio. */
import { resolve } from "node:path";
import { beforeEach, describe, expect, it, vi } from "vitest";

const { ran } = vi.hoisted(() => {
  vi.resetModules();
  return { ran: [] as [string, string[]][] };
});
vi.mock("./studio", () => ({
  runInStudio: async (program: string, args: string[]) => void ran.push([program, args]),
}));
const { backUpStudio, examineStudio, restoreStudio, scrubStore, sweepStore } = await import("./store");

beforeEach(() => void ran.splice(0));

describe("commands that look after a studio", () => {
  it("name their folders from where they are started", async () => {
    await backUpStudio("backups", { keep: "7", every: "24", json: true });
    await restoreStudio("backups", { snapshot: "2026-12-01T03-00-00" });
    await scrubStore({ from: "backups" });
    expect(ran).toEqual([
      ["store", ["backup", resolve("backups"), "--json", "--keep", "7", "--every", "24"]],
      ["store", ["restore", resolve("backups"), "--snapshot", "2026-12-01T03-00-00"]],
      ["store", ["scrub", "--from", resolve("backups")]],
    ]);
  });
  it("hand on nothing that was not said", async () => {
    await sweepStore({ dryRun: true });
    await examineStudio({});
    expect(ran).toEqual([
      ["store", ["sweep", "--dry-run"]],
      ["store", ["doctor"]],
    ]);
  });
  it.each(["0", "-1", "soon", "1e3", "2.5"])("refuse --keep %j", (keep) => {
    expect(() => backUpStudio("b", { keep })).toThrow(/--keep asks for a whole number above 0/);
  });
});
