import { leastSquares } from './leastSquares';

interface NonlinearFit {
  parameters: number[];
  /** residual sum of squares there */
  rss: number;
  /** (JᵀJ)⁻¹ at the end; times the residual variance it is the covariance of the parameters; null where they hang on each other */
  inverse: Float64Array[] | null;
}

type Residuals = (parameters: number[]) => Float64Array | null;

/**
 * Nonlinear least squares by damped Gauss–Newton steps (Levenberg 1944, Marquardt 1963). Derivatives are forward differences on the way and
 * central ones at the end.
 * @param residuals values to be made small, by the parameters; null where a trial is out of bounds
 * @param start parameters of like size to one, such as logarithms
 * @returns null where the start is out of bounds
 */
export function nonlinearLeastSquares(residuals: Residuals, start: number[], rounds = 60): NonlinearFit | null {
  let parameters = [...start];
  let rest = residuals(parameters);
  if (!rest) return null;
  let rss = squares(rest);
  let damping = 1e-3;
  for (let round = 0; round < rounds; round++) {
    const columns = jacobian(residuals, parameters, rest, false);
    const sizes = columns.map((c) => Math.sqrt(squares(c)) || 1);
    let moved = 0;
    for (; damping < 1e8; damping *= 5) {
      const step = dampedStep(columns, sizes, rest, damping);
      const trial = parameters.map((v, k) => v - (step?.[k] ?? 0));
      const there: Float64Array | null = step ? residuals(trial) : null;
      const rssThere = there ? squares(there) : Number.POSITIVE_INFINITY;
      if (!there || !(rssThere < rss)) continue;
      moved = (rss - rssThere) / rss;
      [parameters, rest, rss] = [trial, there, rssThere];
      damping = Math.max(1e-9, damping / 10);
      break;
    }
    if (moved < 1e-9) break;
  }
  return { parameters, rss, inverse: leastSquares(jacobian(residuals, parameters, rest, true), rest)?.inverse() ?? null };
}

function dampedStep(columns: Float64Array[], sizes: number[], rest: Float64Array, damping: number): Float64Array | null {
  const n = rest.length;
  const tall = columns.map((c, k) => {
    const column = new Float64Array(n + columns.length);
    column.set(c);
    column[n + k] = Math.sqrt(damping) * sizes[k];
    return column;
  });
  const y = new Float64Array(n + columns.length);
  y.set(rest);
  return leastSquares(tall, y)?.coefficients ?? null;
}

/** Derivatives of the residuals, one column a parameter; one-sided where the other side is out of bounds. */
const jacobian = (residuals: Residuals, at: number[], rest: Float64Array, central: boolean): Float64Array[] =>
  at.map((v, k) => {
    const h = 1e-5 * Math.max(1, Math.abs(v));
    const up = residuals(withEntry(at, k, v + h));
    const down = central || !up ? residuals(withEntry(at, k, v - h)) : null;
    if (up && down) return up.map((u, i) => (u - down[i]) / (2 * h));
    if (up) return up.map((u, i) => (u - rest[i]) / h);
    return down ? down.map((d, i) => (rest[i] - d) / h) : new Float64Array(rest.length);
  });

/** The list with one of its numbers replaced. */
export const withEntry = (values: number[], at: number, value: number): number[] => values.map((v, i) => (i === at ? value : v));

const squares = (values: Float64Array): number => values.reduce((sum, v) => sum + v * v, 0);
