/**
 * Nodes and weights for expectations over the scale S = √(χ²_ν/ν), the estimated standard deviation
 * in units of the true one.
 *
 * With u = ln S the density is proportional to exp(ν(u − e^{2u}/2)): smooth on the whole line and
 * falling fast on both sides, so the plain trapezoidal rule converges exponentially (Trefethen & Weideman 2014).
 * The weights are normalised by their own sum, which is exact to the same order and needs no gamma function.
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
  const floor = -38;
  const scale: number[] = [];
  const weight: number[] = [];
  let total = 0;
  const add = (u: number, log: number) => {
    const w = Math.exp(log);
    scale.push(Math.exp(u));
    weight.push(w);
    total += w;
  };
  add(0, 0);
  for (let i = 1; ; i++) {
    const log = logDensity(i * step);
    if (log < floor) break;
    add(i * step, log);
  }
  for (let i = 1; ; i++) {
    const log = logDensity(-i * step);
    if (log < floor) break;
    add(-i * step, log);
  }
  return { scale: Float64Array.from(scale), weight: Float64Array.from(weight, (w) => w / total) };
}
