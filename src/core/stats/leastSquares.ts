interface LeastSquares {
  coefficients: Float64Array;
  rss: number;
  /** (XᵀX)⁻¹, row by row; times the residual variance it is the covariance of the coefficients */
  inverse(): Float64Array[];
}

/**
 * Linear least squares by Householder QR (Golub & Van Loan, Matrix Computations, §5.3).
 * @param columns design matrix, one array of n numbers per coefficient; not changed
 * @returns null where the columns are not independent, or hold what is no finite number
 * @example leastSquares([ones, x], y)?.coefficients // intercept and slope
 */
export function leastSquares(columns: Float64Array[], y: Float64Array): LeastSquares | null {
  const n = y.length;
  const p = columns.length;
  if (n < p || p === 0) return null;
  const a = columns.map((c) => Float64Array.from(c));
  const b = Float64Array.from(y);
  const diagonal = new Float64Array(p);
  for (let k = 0; k < p; k++) {
    const v = a[k];
    let squares = 0;
    for (let i = k; i < n; i++) squares += v[i] * v[i];
    const norm = Math.sqrt(squares);
    if (norm === 0) return null;
    diagonal[k] = v[k] > 0 ? -norm : norm;
    const lengthSquared = squares - v[k] * v[k] + (v[k] - diagonal[k]) ** 2;
    v[k] -= diagonal[k];
    for (let j = k + 1; j < p; j++) reflect(a[j], v, k, lengthSquared);
    reflect(b, v, k, lengthSquared);
  }
  const largest = diagonal.reduce((m, d) => Math.max(m, Math.abs(d)), 0);
  // what is no number compares with nothing: such a column is refused with those that hang on others
  if (diagonal.some((d) => !(Math.abs(d) >= 1e-13 * largest))) return null;
  let rss = 0;
  for (let i = p; i < n; i++) rss += b[i] * b[i];
  return { coefficients: backSubstitute(a, diagonal, b), rss, inverse: () => invertGram(a, diagonal) };
}

/** Mirrors a column at the hyperplane of the Householder vector that starts at row k. */
function reflect(column: Float64Array, v: Float64Array, k: number, lengthSquared: number): void {
  let dot = 0;
  for (let i = k; i < v.length; i++) dot += v[i] * column[i];
  const factor = (2 * dot) / lengthSquared;
  for (let i = k; i < v.length; i++) column[i] -= factor * v[i];
}

/** Solves Rx = b, the strict upper part of R lying in the columns and its diagonal apart. */
function backSubstitute(columns: Float64Array[], diagonal: Float64Array, b: Float64Array): Float64Array {
  const p = diagonal.length;
  const x = new Float64Array(p);
  for (let i = p - 1; i >= 0; i--) {
    let sum = b[i];
    for (let j = i + 1; j < p; j++) sum -= columns[j][i] * x[j];
    x[i] = sum / diagonal[i];
  }
  return x;
}

/** (RᵀR)⁻¹ = R⁻¹R⁻ᵀ from the triangular factor. */
function invertGram(columns: Float64Array[], diagonal: Float64Array): Float64Array[] {
  const p = diagonal.length;
  const inverse = Array.from({ length: p }, (_, k) => {
    const unit = new Float64Array(p);
    unit[k] = 1;
    return backSubstitute(columns, diagonal, unit);
  });
  return Array.from({ length: p }, (_, i) => Float64Array.from({ length: p }, (_, j) => inverse.reduce((sum, c) => sum + c[i] * c[j], 0)));
}
