/** Solves `matrix`·x = `right` by elimination with partial pivoting; both are left as they are. */
export function solve(matrix: readonly (readonly number[])[], right: readonly number[]): number[] {
  const n = right.length;
  const rows = matrix.map((row, i) => [...row, right[i]!]);
  for (let column = 0; column < n; column++) {
    let pivot = column;
    for (let i = column + 1; i < n; i++) if (Math.abs(rows[i]![column]!) > Math.abs(rows[pivot]![column]!)) pivot = i;
    [rows[column], rows[pivot]] = [rows[pivot]!, rows[column]!];
    for (let i = column + 1; i < n; i++) {
      const factor = rows[i]![column]! / rows[column]![column]!;
      for (let j = column; j <= n; j++) rows[i]![j]! -= factor * rows[column]![j]!;
    }
  }
  const x = new Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i--) {
    let sum = rows[i]![n]!;
    for (let j = i + 1; j < n; j++) sum -= rows[i]![j]! * x[j]!;
    x[i] = sum / rows[i]![i]!;
  }
  return x;
}
