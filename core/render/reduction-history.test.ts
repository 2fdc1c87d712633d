import { expect, it } from "vitest";
import { ReductionHistory } from "./reduction-history";

it("keeps what each band of each processor takes off, hop by hop", () => {
  const history = new ReductionHistory(0.1);
  history.add({ bands: [1, 2], whole: [0] });
  history.add({ bands: [3, 0], whole: [4] });
  expect(history.result()).toEqual({
    hopSeconds: 0.1,
    of: { bands: [Float32Array.of(1, 3), Float32Array.of(2, 0)], whole: [Float32Array.of(0, 4)] },
  });
});
