import { spawn } from "node:child_process";
import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { processState, processMark } from "./process-mark";

describe("the mark of a process", () => {
  it("tells one that runs from one that is gone, and from another that has its number by now", () => {
    const [host, pid, start] = processMark().split("-");
    expect(processState(`${processMark()}-draft`)).toBe("running");
    expect(processState(`${host}-${pid}-${start}9-draft`)).toBe("gone");
    expect(processState(`${host}-999999999-1-draft`)).toBe("gone");
    expect(processState("elsewhere-1-1-draft")).toBe("elsewhere");
    expect(processState("12345-of-an-earlier-version")).toBe("gone");
  });
  it("counts one that has ended as gone, also while its parent has not fetched it", async () => {
    // The shell starts a child that ends at once, and becomes a program that fetches nobody.
    const parent = spawn("sh", ["-c", "sleep 0.2 & echo $!; exec sleep 30"], { stdio: ["ignore", "pipe", "ignore"] });
    const pid = await new Promise<string>((resolve) =>
      parent.stdout.once("data", (said: Buffer) => resolve(said.toString().trim())),
    );
    const fields = () =>
      readFileSync(`/proc/${pid}/stat`, "latin1")
        .replace(/^.*\) /s, "")
        .split(" ");
    const [host] = processMark().split("-");
    const mark = `${host}-${pid}-${fields()[19]}`;
    expect(processState(mark)).toBe("running");
    await expect.poll(() => fields()[0], { timeout: 5000 }).toBe("Z");
    expect(processState(mark)).toBe("gone");
    parent.kill("SIGKILL");
  });
});
