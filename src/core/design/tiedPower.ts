import { normalCdf } from '#core/stats/distributions/normal';
import { scaleNodes } from '#core/stats/distributions/scaleQuadrature';

/**
 * Chance that two specimens with no true difference are called `tied`: the simultaneous interval lies inside ±margin and holds zero.
 *
 * Given the scale S of the scatter the half width is h = c·S·se, and the observed difference must keep |d| below both h and margin − h.
 * @param se true standard error of the difference, σ·√(2/n)
 * @param df degrees of freedom of the scatter
 * @param critical half width of the simultaneous interval in standard errors
 * @param margin smallest difference that matters, in the unit of se
 */
export function tiedPower(se: number, df: number, critical: number, margin: number): number {
  const { scale, weight } = scaleNodes(df, 0.004);
  let chance = 0;
  for (let i = 0; i < scale.length; i++) {
    const half = critical * scale[i];
    const room = Math.min(half, margin / se - half);
    if (room > 0) chance += weight[i] * (2 * normalCdf(room) - 1);
  }
  return chance;
}
