import { describe, expect, it } from "vitest";
import { sha256Of } from "./sha256";

describe("SHA-256", () => {
  // FIPS 180-4, examples of NIST: one block, and the empty text.
  it("gives the digests of the standard's examples", () => {
    expect(sha256Of("abc")).toBe("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
    expect(sha256Of("")).toBe("e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855");
  });
  it("takes text as UTF-8", () => {
    expect(sha256Of("ü")).not.toBe(sha256Of("u"));
  });
});
