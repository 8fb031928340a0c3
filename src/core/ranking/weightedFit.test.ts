import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { leastSquares } from '#core/stats/leastSquares';
import { seededRandom } from '#core/stats/random';
import { connectedTo } from './connected';
import type { RankingRow } from './types';
import { contrast, rankingDesign, weightedFit } from './weightedFit';

/** A sparse design: each set-up has the first material and each other with a chance. */
function drawn(seed: number, setups: number, materials: number): RankingRow[] {
  const random = seededRandom(seed);
  const rows: RankingRow[] = [];
  for (let s = 0; s < setups; s++)
    for (let m = 0; m < materials; m++)
      if (m === s % materials || random.uniform() < 0.5)
        rows.push({ setup: `S${s}`, material: `M${m}`, mean: 1000 * random.uniform() + m, variance: 0.01 + 10 * random.uniform() });
  return rows;
}

/** The same model by Householder QR over all its columns. */
function byQr(rows: RankingRow[], base: string, tau2: number) {
  const setups = [...new Set(rows.map((r) => r.setup))];
  const others = [...new Set(rows.map((r) => r.material))].filter((m) => m !== base);
  const roots = rows.map((r) => 1 / Math.sqrt(r.variance + tau2));
  const column = (holds: (r: RankingRow) => boolean) => Float64Array.from(rows, (r, i) => (holds(r) ? roots[i] : 0));
  const columns = [...setups.map((s) => column((r) => r.setup === s)), ...others.map((m) => column((r) => r.material === m))];
  const fit = leastSquares(
    columns,
    Float64Array.from(rows, (r, i) => r.mean * roots[i]),
  );
  if (!fit) throw new Error('not connected');
  const inverse = fit.inverse();
  const at = (m: string) => setups.length + others.indexOf(m);
  return {
    q: fit.rss,
    effect: (m: string) => (m === base ? 0 : fit.coefficients[at(m)]),
    variance: (m: string) => (m === base ? 0 : inverse[at(m)][at(m)]),
    covariance: (a: string, setup: string) => (a === base ? 0 : inverse[at(a)][setups.indexOf(setup)]),
  };
}

describe('the fit as a network of conductances', () => {
  it.each([
    ['more materials than set-ups', 3, 7],
    ['more set-ups than materials', 8, 3],
    ['as many', 4, 4],
  ])('is that of QR with %s', (_, setups, materials) => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.double({ min: 0, max: 5, noNaN: true }), (seed, tau2) => {
        const rows = connectedTo(drawn(seed, setups, materials), 'M0');
        const design = rankingDesign(rows, 'M0');
        if (rows.length <= design.parameters) return;
        const [fit, qr] = [weightedFit(design, tau2), byQr(rows, 'M0', tau2)];
        expect(Math.abs(fit.q / qr.q - 1)).toBeLessThan(1e-8);
        const [setup] = design.setups;
        const covariances = fit.covariances(design.materials, setup);
        for (const [i, m] of design.materials.entries()) {
          expect(fit.effect(m)).toBeCloseTo(qr.effect(m), 7);
          expect(contrast(fit, m, 'M0').variance).toBeCloseTo(qr.variance(m), 8);
          expect(covariances[i][i]).toBeCloseTo(qr.variance(m), 8);
          expect(covariances[i][design.materials.length]).toBeCloseTo(qr.covariance(m, setup), 8);
        }
      }),
      { numRuns: 40 },
    );
  });

  it('is refused where the rows are not connected', () => {
    const row = (setup: string, material: string): RankingRow => ({ setup, material, mean: 1, variance: 1 });
    expect(() => weightedFit(rankingDesign([row('S1', 'A'), row('S1', 'B'), row('S2', 'C'), row('S2', 'D')], 'A'), 0)).toThrow(
      'not connected',
    );
  });

  it('has a score that is the slope of the restricted likelihood', () => {
    const rows = connectedTo(drawn(12, 6, 5), 'M0');
    const design = rankingDesign(rows, 'M0');
    // the likelihood without constants: −½ (Σ ln v + ln det(XᵀWX) + Q)
    const likelihood = (tau2: number) => {
      const fit = weightedFit(design, tau2);
      const names = design.materials.filter((m) => m !== 'M0');
      const logs = rows.reduce((sum, r) => sum + Math.log(r.variance + tau2), 0);
      // det of the information of all effects is that of the materials given the set-ups, times the set-ups' weights
      const weights = design.setups.map((s) => rows.reduce((sum, r) => sum + (r.setup === s ? 1 / (r.variance + tau2) : 0), 0));
      const information = weights.reduce((sum, w) => sum + Math.log(w), 0) - logDet(fit.covariances(names, null));
      return -0.5 * (logs + information + fit.q);
    };
    const h = 1e-4;
    const slope = (likelihood(2 + h) - likelihood(2 - h)) / (2 * h);
    expect(weightedFit(design, 2).score() / slope).toBeCloseTo(1, 4);
  });
});

/** Logarithm of the determinant of a positive definite matrix, by elimination. */
function logDet(rows: Float64Array[]): number {
  const a = rows.map((r) => Float64Array.from(r));
  let sum = 0;
  for (let k = 0; k < a.length; k++) {
    sum += Math.log(a[k][k]);
    for (let i = k + 1; i < a.length; i++) {
      const factor = a[i][k] / a[k][k];
      for (let j = k; j < a.length; j++) a[i][j] -= factor * a[k][j];
    }
  }
  return sum;
}
