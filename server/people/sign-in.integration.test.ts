/** Guessing passwords on the real PostgreSQL: none gets in, and nobody else is kept waiting. */
import { beforeAll, describe, expect, it } from "vitest";
import { PASSWORD, person, request } from "../../tests/integration/people";
import { migrate, row } from "../db/database";
import { auditTrail } from "./audit";
import { signInByPassword } from "./sign-in";

beforeAll(migrate);

const from = (address: string) => request("POST", "/api/sign-in", { "x-resonum-address": address }).headers;

async function tried(email: string, password: string, address: string): Promise<number> {
  try {
    return (await signInByPassword({ email, password }, from(address), address)).status;
  } catch (error) {
    return (error as { status: number }).status;
  }
}

describe("signing in", () => {
  it("works with the right password, whatever the case of the address, and counts from nothing again", async () => {
    await person("Oriel", "owner");
    for (let round = 0; round < 3; round++) {
      for (let i = 0; i < 4; i++) expect(await tried("oriel@sluice.example", "wrong", "192.0.2.1")).toBe(401);
      expect(await tried("Oriel@Sluice.example", PASSWORD, "192.0.2.1")).toBe(200);
    }
    const [last] = await auditTrail({ words: "signed in" });
    expect(last).toMatchObject({ person: "Oriel", address: "192.0.2.1" });
  });

  it("answers the same of an account that there is and of one that there is not", async () => {
    const words = (email: string) =>
      signInByPassword({ email, password: "wrong" }, request("POST", "/").headers, "192.0.2.2").catch(
        (error: Error) => error.message,
      );
    await person("Tamsin", "engineer");
    expect(await words("tamsin@sluice.example")).toBe(await words("nobody@sluice.example"));
    const entries = await auditTrail({ words: "unknown" });
    expect(JSON.stringify(entries)).not.toContain("nobody@");
  });

  it("is locked out after five wrong passwords from one address, also with the right one; not from another", async () => {
    await person("Wen", "engineer");
    for (let i = 0; i < 5; i++) expect(await tried("wen@sluice.example", `guess ${i}`, "192.0.2.3")).toBe(401);
    expect(await tried("wen@sluice.example", PASSWORD, "192.0.2.3")).toBe(429);
    expect(await tried("wen@sluice.example", PASSWORD, "192.0.2.4")).toBe(200);
  });

  it("lets none of 10,000 guesses in, from wherever, and works no password out that comes too late", async () => {
    await person("Ines", "owner");
    const answers = new Map<number, number>();
    const guesses = Array.from({ length: 10_000 }, (_, i) => i);
    const guess = async (i: number) => {
      const status = await tried("ines@sluice.example", i === 9000 ? PASSWORD : `guess ${i}`, `198.51.100.${i % 100}`);
      answers.set(status, (answers.get(status) ?? 0) + 1);
    };
    const worker = async () => {
      for (let next = guesses.pop(); next !== undefined; next = guesses.pop()) await guess(next);
    };
    // Meanwhile somebody else signs in from another place: the first time while nearly all guesses are still to come.
    await person("Marl", "engineer");
    const meanwhile: number[] = [];
    let leftAtFirst = 0;
    const other = async () => {
      do {
        meanwhile.push(await tried("marl@sluice.example", PASSWORD, "192.0.2.5"));
        leftAtFirst ||= guesses.length;
      } while (guesses.length > 0);
    };
    await Promise.all([...Array.from({ length: 32 }, worker), other()]);
    expect(answers.get(200)).toBeUndefined();
    expect(leftAtFirst).toBeGreaterThan(1000);
    expect(new Set(meanwhile)).toEqual(new Set([200]));
    // Of so many that come at the same time most are sent away before anything is worked out.
    const { 401: wrong = 0, 429: refused = 0, 503: busy = 0 } = Object.fromEntries(answers);
    expect(wrong).toBeLessThanOrEqual(50);
    expect(wrong + refused + busy).toBe(10_000);
    const sessions = `select 1 from session join person on person."id" = "userId" where email = 'ines@sluice.example'`;
    expect(await row(sessions)).toBeUndefined();
    const lockOuts = await auditTrail({ words: "was locked out" });
    expect(lockOuts.length).toBeLessThan(200);
  });
});
