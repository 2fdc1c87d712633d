import { Command } from "commander";
import { describe, expect, it } from "vitest";
import { withFormerFlags } from "./former-flags";

const parsed = (...args: string[]) =>
  withFormerFlags(
    new Command("render").option("--bit-depth <bits>").option("--bitrate <kbps>").option("--force").exitOverride(),
  )
    .parse(args, { from: "user" })
    .opts<Record<string, unknown>>();

describe("flags of earlier versions", () => {
  it("do what today's do", () => {
    expect(parsed("--bits", "16", "--kbps", "128", "--again")).toMatchObject({
      bitDepth: "16",
      bitrate: "128",
      force: true,
    });
    expect(parsed("--bit-depth", "24")).toMatchObject({ bitDepth: "24" });
  });
  it("are not shown, and taken only where today's are", () => {
    const command = withFormerFlags(new Command("watch").option("--poll-interval <seconds>"));
    expect(command.helpInformation()).not.toContain("--every");
    expect(command.options.map(({ long }) => long)).toEqual(["--poll-interval", "--every"]);
  });
});
