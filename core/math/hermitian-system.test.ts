import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { hermitianSystem } from "./hermitian-system";

const numbers = (length: number) =>
  fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: length, maxLength: length });

describe("a Hermitian system", () => {
  it("is solved: the matrix times what is found is the right-hand side", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 6 }).chain((order) =>
          fc.record({
            order: fc.constant(order),
            re: numbers(order * order),
            im: numbers(order * order),
            right: numbers(2 * order),
          }),
        ),
        ({ order, re, im, right }) => {
          // A·Aᴴ with something on the diagonal is positive definite.
          const [matrixRe, matrixIm] = [new Float64Array(order * order), new Float64Array(order * order)];
          for (let i = 0; i < order; i++)
            for (let j = 0; j < order; j++) {
              let [sr, si] = [i === j ? 0.5 : 0, 0];
              for (let k = 0; k < order; k++) {
                const [ar, ai] = [re[i * order + k]!, im[i * order + k]!];
                const [br, bi] = [re[j * order + k]!, im[j * order + k]!];
                sr += ar * br + ai * bi;
                si += ai * br - ar * bi;
              }
              matrixRe[i * order + j] = sr;
              matrixIm[i * order + j] = si;
            }
          const solve = hermitianSystem(matrixRe.slice(), matrixIm.slice(), order);
          const [xr, xi] = solve(Float64Array.from(right.slice(0, order)), Float64Array.from(right.slice(order)));
          for (let i = 0; i < order; i++) {
            let [sr, si] = [0, 0];
            for (let j = 0; j < order; j++) {
              const [ar, ai] = [matrixRe[i * order + j]!, matrixIm[i * order + j]!];
              sr += ar * xr[j]! - ai * xi[j]!;
              si += ar * xi[j]! + ai * xr[j]!;
            }
            expect(sr).toBeCloseTo(right[i]!, 8);
            expect(si).toBeCloseTo(right[order + i]!, 8);
          }
        },
      ),
      { numRuns: 100 },
    );
  });
});
