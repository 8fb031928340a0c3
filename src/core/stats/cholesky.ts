/**
 * Inverse of a symmetric positive definite matrix by its Cholesky factor (Golub & Van Loan, Matrix Computations, §4.2).
 * @param rows the matrix, row by row; overwritten
 * @returns null where it is not positive definite
 */
export function invertPositive(rows: Float64Array[]): Float64Array[] | null {
  const n = rows.length;
  // the factor stands in the lower triangle; sums run along rows, which lie together in memory
  for (let i = 0; i < n; i++) {
    const own = rows[i];
    for (let j = 0; j <= i; j++) {
      const other = rows[j];
      let sum = own[j];
      for (let k = 0; k < j; k++) sum -= own[k] * other[k];
      if (i === j) {
        if (!(sum > 0)) return null;
        own[i] = Math.sqrt(sum);
      } else own[j] = sum / other[j];
    }
  }
  // columns of the factor's inverse, each from its diagonal down
  const columns = rows.map(() => new Float64Array(n));
  for (let j = 0; j < n; j++) {
    const column = columns[j];
    column[j] = 1 / rows[j][j];
    for (let i = j + 1; i < n; i++) {
      const row = rows[i];
      let sum = 0;
      for (let k = j; k < i; k++) sum -= row[k] * column[k];
      column[i] = sum / row[i];
    }
  }
  const inverse = rows.map(() => new Float64Array(n));
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = 0;
      for (let k = i; k < n; k++) sum += columns[i][k] * columns[j][k];
      inverse[i][j] = sum;
      inverse[j][i] = sum;
    }
  return inverse;
}
