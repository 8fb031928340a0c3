/**
 * Nodes and weights for expectations over the scale S = √(χ²_ν/ν), the estimated standard deviation
 * in units of the true one.
 *
 * With u = ln S the density is proportional to exp(ν(u − e^{2u}/2)): smooth on the whole line and falling fast on both sides, so the plain
 * trapezoidal rule converges exponentially (Trefethen & Weideman 2014). The weights are normalised by their own sum, which is exact to the
 * same order and needs no gamma function.
 */
export interface ScaleNodes {
  /** values of S */
  scale: Float64Array;
  /** weights, summing to 1 */
  weight: Float64Array;
}

/**
 * @param df degrees of freedom, above 0; Infinity gives the single node S = 1
 * @param finest largest step in u that still resolves the function to be averaged
 */
export function scaleNodes(df: number, finest: number): ScaleNodes {
  if (!Number.isFinite(df) || df > 1e9) return { scale: Float64Array.of(1), weight: Float64Array.of(1) };
  const logDensity = (u: number) => df * (u - Math.expm1(2 * u) / 2);
  const step = Math.min(finest, 0.45 / Math.sqrt(2 * df));
  const floor = -35; // 6e-16 of the peak
  let up = 1;
  while (logDensity(up * step) >= floor) up++;
  let down = 1;
  while (logDensity(-down * step) >= floor) down++;
  const count = up + down - 1;
  const scale = new Float64Array(count);
  const weight = new Float64Array(count);
  const growth = Math.exp(step);
  let total = 0;
  let s = Math.exp((1 - down) * step);
  for (let i = 0; i < count; i++) {
    const u = (i + 1 - down) * step;
    scale[i] = s;
    weight[i] = Math.exp(df * (u - (s * s - 1) / 2));
    total += weight[i];
    s *= growth;
  }
  for (let i = 0; i < count; i++) weight[i] /= total;
  return { scale, weight };
}
