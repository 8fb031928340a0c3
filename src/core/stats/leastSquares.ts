export interface LeastSquares {
  coefficients: Float64Array;
  /** (XᵀX)⁻¹, row by row; times the residual variance it is the covariance of the coefficients */
  inverse: Float64Array[];
  rss: number;
}

/**
 * Linear least squares by Householder QR (Golub & Van Loan, Matrix Computations, §5.3).
 * @param rows design matrix, one array of p numbers per observation
 * @returns null where the columns are not independent
 */
export function leastSquares(rows: ArrayLike<number>[], y: ArrayLike<number>): LeastSquares | null {
  const n = rows.length;
  const p = rows[0]?.length ?? 0;
  if (n < p || p === 0) return null;
  const a = rows.map((r) => Float64Array.from(r));
  const b = Float64Array.from(y);
  for (let k = 0; k < p; k++) {
    let norm = 0;
    for (let i = k; i < n; i++) norm = Math.hypot(norm, a[i][k]);
    if (norm === 0) return null;
    const alpha = a[k][k] > 0 ? -norm : norm;
    const v = new Float64Array(n);
    for (let i = k; i < n; i++) v[i] = a[i][k];
    v[k] -= alpha;
    let vv = 0;
    for (let i = k; i < n; i++) vv += v[i] * v[i];
    if (vv === 0) continue;
    for (let j = k; j < p; j++) {
      let dot = 0;
      for (let i = k; i < n; i++) dot += v[i] * a[i][j];
      for (let i = k; i < n; i++) a[i][j] -= (2 * dot * v[i]) / vv;
    }
    let dot = 0;
    for (let i = k; i < n; i++) dot += v[i] * b[i];
    for (let i = k; i < n; i++) b[i] -= (2 * dot * v[i]) / vv;
  }
  const largest = Math.max(...Array.from({ length: p }, (_, k) => Math.abs(a[k][k])));
  for (let k = 0; k < p; k++) if (Math.abs(a[k][k]) < 1e-13 * largest) return null;
  const coefficients = backSubstitute(a, b, p);
  let rss = 0;
  for (let i = p; i < n; i++) rss += b[i] * b[i];
  return { coefficients, inverse: invertGram(a, p), rss };
}

function backSubstitute(r: Float64Array[], b: Float64Array, p: number): Float64Array {
  const x = new Float64Array(p);
  for (let i = p - 1; i >= 0; i--) {
    let sum = b[i];
    for (let j = i + 1; j < p; j++) sum -= r[i][j] * x[j];
    x[i] = sum / r[i][i];
  }
  return x;
}

/** (RᵀR)⁻¹ = R⁻¹R⁻ᵀ from the triangular factor. */
function invertGram(r: Float64Array[], p: number): Float64Array[] {
  const columns = Array.from({ length: p }, (_, k) => {
    const unit = new Float64Array(p);
    unit[k] = 1;
    return backSubstitute(r, unit, p);
  });
  return Array.from({ length: p }, (_, i) =>
    Float64Array.from({ length: p }, (_, j) => columns.reduce((sum, c) => sum + c[i] * c[j], 0)),
  );
}
