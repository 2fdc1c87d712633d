/** What is too heavy is made ahead, up to the last processor that has to be. */
import { expect, it } from "vitest";
import { newChainEntry } from "@core/processors";
import { frozenByCost, type ChainCosts } from "./freezing";

const chain = ["a", "b", "c", "d"].map((id) => newChainEntry("gain", id));
const costing = (...shares: number[]): ChainCosts => ({
  of: ({ id }) => ({ share: shares["abcd".indexOf(id!)]!, latencySeconds: 0 }),
  all: { share: shares.reduce((sum, share) => sum + share, 0), latencySeconds: 0 },
});

it.each([
  ["nothing that is light", [0.1, 0.1, 0.1, 0.1], 0],
  ["up to the heavy one", [0.1, 0.5, 0.1, 0.1], 2],
  ["all, where the last one is heavy", [0.1, 0.1, 0.1, 0.8], 4],
  ["as many as must be, where many weigh a little", [0.2, 0.2, 0.2, 0.2], 3],
])("freezes %s", (_, shares, count) => {
  expect(frozenByCost(chain, costing(...shares))).toBe(count);
  expect(frozenByCost(chain, null)).toBe(0);
});
it("does not count what is bypassed", () => {
  const bypassed = chain.map((entry, n) => ({ ...entry, bypass: n === 3 }));
  expect(frozenByCost(bypassed, costing(0.4, 0.5, 0.1, 0.9))).toBe(2);
});
