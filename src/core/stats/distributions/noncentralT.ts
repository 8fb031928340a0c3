import { normalCdf } from './normal';
import { scaleNodes } from './scaleQuadrature';

/**
 * P(T ≤ x) for the noncentral t distribution: T = (Z + δ)/S, so P = E[Φ(xS − δ)] over S = √(χ²_ν/ν). No kept library offers it; the
 * quadrature is good to about 1e-12 absolute.
 * @param df degrees of freedom, real, above 0
 * @param ncp noncentrality δ
 */
export function noncentralTCdf(x: number, df: number, ncp: number): number {
  const { scale, weight } = scaleNodes(df, Math.min(0.05, 0.3 / Math.max(1, Math.abs(ncp), Math.min(Math.abs(x), 40))));
  let sum = 0;
  for (let i = 0; i < scale.length; i++) sum += weight[i] * normalCdf(x * scale[i] - ncp);
  return Math.min(1, Math.max(0, sum));
}
