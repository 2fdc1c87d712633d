import { expect, it } from "vitest";
import { workerFailure } from "./worker-failure";

it("says what broke down, or that the page is older than its server", () => {
  expect(workerFailure({ message: "RangeError: out of memory" })).toContain("RangeError: out of memory");
  expect(workerFailure({ message: "" })).toMatch(/Reload the page/);
  expect(workerFailure({})).toMatch(/Reload the page/);
});
