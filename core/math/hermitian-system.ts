/** Complex linear systems whose matrix is Hermitian and positive definite, by Cholesky's method. */

/** Against matrices that are not quite positive definite by rounding. */
const LEAST_PIVOT = 1e-300;

/**
 * Takes a matrix apart, in its place, and gives the function that solves for a right-hand side, in its place.
 * Shape of the matrix: [row × order + column], of which the lower triangle is read.
 * @returns real and imaginary parts of the solution
 */
export function hermitianSystem(
  re: Float64Array,
  im: Float64Array,
  order: number,
): (vectorRe: Float64Array, vectorIm: Float64Array) => [Float64Array, Float64Array] {
  // L·Lᴴ in the place of the lower triangle.
  for (let j = 0; j < order; j++) {
    let diagonal = re[j * order + j]!;
    for (let k = 0; k < j; k++) {
      const [lr, li] = [re[j * order + k]!, im[j * order + k]!];
      diagonal -= lr * lr + li * li;
    }
    const root = Math.sqrt(Math.max(diagonal, LEAST_PIVOT));
    re[j * order + j] = root;
    im[j * order + j] = 0;
    for (let i = j + 1; i < order; i++) {
      let [sr, si] = [re[i * order + j]!, im[i * order + j]!];
      for (let k = 0; k < j; k++) {
        const [ar, ai] = [re[i * order + k]!, im[i * order + k]!];
        const [br, bi] = [re[j * order + k]!, im[j * order + k]!];
        sr -= ar * br + ai * bi;
        si -= ai * br - ar * bi;
      }
      re[i * order + j] = sr / root;
      im[i * order + j] = si / root;
    }
  }
  return (gr, gi) => {
    for (let i = 0; i < order; i++) {
      let [sr, si] = [gr[i]!, gi[i]!];
      for (let k = 0; k < i; k++) {
        const [lr, li] = [re[i * order + k]!, im[i * order + k]!];
        sr -= lr * gr[k]! - li * gi[k]!;
        si -= lr * gi[k]! + li * gr[k]!;
      }
      gr[i] = sr / re[i * order + i]!;
      gi[i] = si / re[i * order + i]!;
    }
    for (let i = order - 1; i >= 0; i--) {
      let [sr, si] = [gr[i]!, gi[i]!];
      for (let k = i + 1; k < order; k++) {
        const [lr, li] = [re[k * order + i]!, im[k * order + i]!];
        sr -= lr * gr[k]! + li * gi[k]!;
        si -= lr * gi[k]! - li * gr[k]!;
      }
      gr[i] = sr / re[i * order + i]!;
      gi[i] = si / re[i * order + i]!;
    }
    return [gr, gi];
  };
}
