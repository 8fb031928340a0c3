import { fUpperTail } from '#core/stats/distributions/f';
import { mean, sumOfSquares } from '#core/stats/moments';
import { median } from '#core/stats/quantiles';
import type { OneWayFit } from './oneWay';

interface RunValue {
  specimen: string;
  mount: string;
  value: number;
}

interface VarianceComponents {
  mount_sd: number;
  run_sd: number;
  reml_loglik: number;
  /** true where the likelihood is highest at no mount scatter at all */
  singular: boolean;
  specimens: { specimen: string; mean: number; se: number }[];
  /** largest difference to expect between two runs on one mount, 95 % (ISO 5725-6: 2.8 standard deviations) */
  repeatability_limit: number;
  between_mount_limit: number;
}

interface MountMean {
  n: number;
  mean: number;
}

/**
 * Scatter between mounts and between runs of one mount by restricted maximum likelihood, one ratio for all specimens.
 *
 * The criterion is profiled to the single ratio λ = mount variance / run variance; its derivative is solved by bisection.
 * Source: Searle, Casella & McCulloch, Variance Components (1992), chapter 6.
 * @returns null where runs on one mount never repeat or never differ, so that the two cannot be told apart
 */
export function varianceComponents(rows: RunValue[]): VarianceComponents | null {
  const specimens = groupMounts(rows);
  const mounts = [...specimens.values()].flatMap((s) => s.mounts);
  const ssRuns = [...specimens.values()].reduce((sum, s) => sum + s.ss, 0);
  const n = rows.length;
  const p = specimens.size;
  if (n === mounts.length || ssRuns === 0 || n - p < 1) return null;

  const weightsOf = (ratio: number, list: MountMean[]) => list.map((m) => m.n / (1 + m.n * ratio));
  const centreOf = (w: number[], list: MountMean[]) => {
    const shift = list[0].mean;
    const total = w.reduce((a, b) => a + b, 0);
    return { total, mean: shift + w.reduce((sum, wi, i) => sum + wi * (list[i].mean - shift), 0) / total };
  };
  const evaluate = (ratio: number) => {
    let rss = ssRuns;
    let slopeRss = 0;
    let slopeLog = 0;
    let logDet = 0;
    for (const { mounts: list } of specimens.values()) {
      const w = weightsOf(ratio, list);
      const { total, mean: centre } = centreOf(w, list);
      let squares = 0;
      list.forEach((m, i) => {
        const r = m.mean - centre;
        rss += w[i] * r * r;
        slopeRss += w[i] * w[i] * r * r;
        squares += w[i] * w[i];
        logDet += Math.log1p(m.n * ratio);
      });
      slopeLog += total - squares / total;
      logDet += Math.log(total);
    }
    return { rss, logDet, score: ((n - p) * slopeRss) / rss - slopeLog };
  };

  const ratio = solveScore((x) => evaluate(x).score);
  const { rss, logDet } = evaluate(ratio);
  const runVariance = rss / (n - p);
  const runSd = Math.sqrt(runVariance);
  const mountSd = Math.sqrt(ratio * runVariance);
  return {
    mount_sd: mountSd,
    run_sd: runSd,
    reml_loglik: -0.5 * (logDet + (n - p) * (1 + Math.log(2 * Math.PI * runVariance))),
    singular: ratio === 0,
    specimens: Array.from(specimens, ([specimen, { mounts: list }]) => {
      const { total, mean: centre } = centreOf(weightsOf(ratio, list), list);
      return { specimen, mean: centre, se: Math.sqrt(runVariance / total) };
    }),
    repeatability_limit: 2.8 * runSd,
    between_mount_limit: 2.8 * Math.hypot(mountSd, runSd),
  };
}

function groupMounts(rows: RunValue[]) {
  const values = new Map<string, Map<string, number[]>>();
  for (const row of rows) {
    const mounts = values.get(row.specimen) ?? new Map<string, number[]>();
    values.set(row.specimen, mounts);
    const runs = mounts.get(row.mount);
    if (runs) runs.push(row.value);
    else mounts.set(row.mount, [row.value]);
  }
  const specimens = new Map<string, { mounts: MountMean[]; ss: number }>();
  for (const [specimen, mounts] of values) {
    const lists = [...mounts.values()];
    specimens.set(specimen, {
      mounts: lists.map((runs) => ({ n: runs.length, mean: mean(runs) })),
      ss: lists.reduce((sum, runs) => sum + sumOfSquares(runs), 0),
    });
  }
  return specimens;
}

/** Root of a score that falls with the ratio; 0 where it is not positive at 0. */
function solveScore(score: (ratio: number) => number): number {
  if (score(0) <= 0) return 0;
  let low = 0;
  let high = 1e-3;
  while (score(high) > 0 && high < 1e15) {
    low = high;
    high *= 4;
  }
  for (let i = 0; i < 200 && high - low > 1e-15 * high; i++) {
    const middle = (low + high) / 2;
    if (score(middle) > 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/**
 * Do the specimens scatter differently? Analysis of variance of the distances from each specimen's median (Brown & Forsythe 1974). Null
 * where no specimen has more than two mounts: those distances are equal by construction.
 */
export function brownForsythe(fit: OneWayFit): { F: number; df1: number; df2: number; p: number } | null {
  const groups = fit.groups.map((g) => {
    const centre = median(g.values);
    return g.values.map((v) => Math.abs(v - centre));
  });
  const n = groups.reduce((sum, g) => sum + g.length, 0);
  const k = groups.length;
  if (k < 2 || n - k < 1 || groups.every((g) => g.length <= 2)) return null;
  const ssWithin = groups.reduce((sum, g) => sum + sumOfSquares(g), 0);
  if (ssWithin === 0) return null;
  const grand = mean(groups.flat());
  const ssBetween = groups.reduce((sum, g) => sum + g.length * (mean(g) - grand) ** 2, 0);
  const F = ssBetween / (k - 1) / (ssWithin / (n - k));
  return { F, df1: k - 1, df2: n - k, p: fUpperTail(F, k - 1, n - k) };
}
