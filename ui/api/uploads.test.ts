import { describe, expect, it } from "vitest";
import { SOUND_EXTENSIONS } from "@core/files/extensions";
import { timeLeft } from "@ui/design-system/progress-bar";
import { chainWithPending } from "@ui/state/workspace-store";
import { refusalOf } from "./uploads";

describe("what is taken in", () => {
  it.each(SOUND_EXTENSIONS)("a file that ends in %s, in capitals as well", (extension) => {
    expect(refusalOf({ name: `Reed${extension}`, size: 1 })).toBeNull();
    expect(refusalOf({ name: `REED${extension.toUpperCase()}`, size: 1 })).toBeNull();
  });
  it("nothing that is empty or of another kind", () => {
    expect(refusalOf({ name: "Reed.wav", size: 0 })).toMatch(/empty/);
    expect(refusalOf({ name: "Reed.txt", size: 10 })).toMatch(/not a sound/);
    expect(refusalOf({ name: "Reed", size: 10 })).toMatch(/not a sound/);
  });
});

describe("time left", () => {
  it("is told in words, and not where it is not known", () => {
    expect(timeLeft(0.2)).toBe("about 1 s left");
    expect(timeLeft(42)).toBe("about 42 s left");
    expect(timeLeft(200)).toBe("about 3 min left");
    expect(timeLeft(null)).toBe("");
    expect(timeLeft(Infinity)).toBe("");
  });
});

describe("a setting that is being moved", () => {
  const chain = [
    { type: "gain", id: "g", bypass: false, gainDb: 0 },
    { type: "limiter", id: "l", bypass: false, ceilingDbtp: -1 },
  ];
  it("is in the chain that is heard, and not in the one that is kept", () => {
    const heard = chainWithPending(chain, { entry: "g", parameter: "gainDb", setting: 3 });
    expect(heard[0]!.gainDb).toBe(3);
    expect(heard[1]).toBe(chain[1]);
    expect(chain[0]!.gainDb).toBe(0);
    expect(chainWithPending(chain, null)).toBe(chain);
  });
});
