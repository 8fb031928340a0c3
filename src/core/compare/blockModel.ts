import { fUpperTail } from '#core/stats/distributions/f';
import { tQuantile } from '#core/stats/distributions/t';
import { leastSquares } from '#core/stats/leastSquares';
import { mean } from '#core/stats/moments';
import { linkedComponents } from './components';
import { fitOneWay, type OneWayFit, type SpecimenMean } from './oneWay';
import type { MountValue } from './types';

/** Additive model of mount values by specimen and block; blocks are unordered and fixed. */
export interface BlockFit {
  /** groups of the specimens, whose `offset` and `mean` are marginal means with equal weight for each block */
  one_way: OneWayFit;
  blocks: string[];
  /** residual degrees of freedom */
  df: number;
  /** residual standard deviation, null without residual degrees of freedom */
  sd: number | null;
  /** which specimens can be compared with each other */
  component: number[];
  /** covariance of the marginal means over the residual variance; only differences within a component mean anything */
  covariance: Float64Array[];
  /** residual and leverage of each row */
  rows: { residual: number; leverage: number }[];
  rss: number;
}

/** Below this share of the data's spread a residual is rounding. */
const ROUNDING = 1e-12;

/**
 * Fits value ~ specimen + block by Householder QR on values less one of them. Specimens and blocks stand in the order of first appearance.
 * Parts of a design that no block links are fitted side by side with one residual scatter; each has block effects of its own.
 * @param rows mount values, each with its block
 */
export function fitBlocks(rows: (MountValue & { block: string })[]): BlockFit {
  const plain = fitOneWay(rows);
  const specimens = plain.groups.map((g) => g.specimen);
  const blocks = [...new Set(rows.map((r) => r.block))];
  const links = linkedComponents(rows);
  const component = specimens.map((s) => links.specimens.get(s) ?? 0);
  const blockPart = blocks.map((b) => links.blocks.get(b) ?? 0);
  // the first block of each component is what its specimens stand on
  const firsts = new Set(Array.from({ length: links.count }, (_, c) => blockPart.indexOf(c)));
  const free = blocks.map((_, b) => b).filter((b) => !firsts.has(b));
  const specimenAt = new Map(specimens.map((s, i) => [s, i]));
  const blockAt = new Map(free.map((b, j) => [blocks[b], specimens.length + j]));
  const design = Array.from({ length: specimens.length + free.length }, () => new Float64Array(rows.length));
  const columnsOf = (r: { specimen: string; block: string }) => {
    const block = blockAt.get(r.block);
    return [specimenAt.get(r.specimen) ?? 0, ...(block === undefined ? [] : [block])];
  };
  for (const [i, r] of rows.entries()) for (const c of columnsOf(r)) design[c][i] = 1;
  const y = Float64Array.from(rows, (r) => r.value - plain.origin);
  const solved = leastSquares(design, y);
  if (!solved) throw new RangeError('The specimens and blocks are confounded.');
  const inverse = solved.inverse();
  const { coefficients } = solved;

  // a marginal mean is the specimen's coefficient and the mean of its component's block effects
  const weights = Array.from({ length: links.count }, (_, c) => {
    const own = blockPart.filter((p) => p === c).length;
    return free.map((b) => (blockPart[b] === c ? 1 / own : 0));
  });
  const linear = specimens.map((_, i) => {
    const w = new Float64Array(design.length);
    w[i] = 1;
    weights[component[i]].forEach((v, j) => {
      w[specimens.length + j] = v;
    });
    return w;
  });
  const times = linear.map((w) => inverse.map((row) => dot(row, w)));
  const covariance = linear.map((w) => Float64Array.from(times, (t) => dot(w, t)));
  const fitted = rows.map((r) => columnsOf(r).reduce((sum, c) => sum + coefficients[c], 0));
  const residuals = rows.map((_, i) => y[i] - fitted[i]);
  const spread = Math.max(...y.map(Math.abs), 0);
  const rss = residuals.every((r) => Math.abs(r) <= ROUNDING * Math.max(spread, Math.abs(plain.origin))) ? 0 : solved.rss;
  const df = rows.length - design.length;
  const offsets = linear.map((w) => dot(w, coefficients));
  return {
    one_way: { ...plain, groups: plain.groups.map((g, i) => ({ ...g, offset: offsets[i], mean: plain.origin + offsets[i] })) },
    ...{ blocks, df, component, covariance, rss },
    sd: df > 0 ? Math.sqrt(rss / df) : null,
    rows: rows.map((r, i) => {
      const columns = columnsOf(r);
      const leverage = columns.reduce((sum, c) => sum + columns.reduce((s, d) => s + inverse[c][d], 0), 0);
      return { residual: residuals[i], leverage };
    }),
  };
}

/** Standard error of a difference of two marginal means; null where no chain of blocks links them or nothing scatters freely. */
export function blockDifferenceSe(fit: BlockFit, a: number, b: number): number | null {
  if (fit.sd === null || fit.component[a] !== fit.component[b]) return null;
  const v = fit.covariance[a][a] + fit.covariance[b][b] - 2 * fit.covariance[a][b];
  return fit.sd * Math.sqrt(Math.max(0, v));
}

/** Marginal means with t intervals on the residual scatter. */
export const blockMeans = (fit: BlockFit, confidence: number): SpecimenMean[] =>
  fit.one_way.groups.map((g, i) => {
    const { specimen, n, mean: centre, sd } = g;
    if (fit.sd === null) return { specimen, n, mean: centre, sd, se: null, df: null, ci: null };
    const se = fit.sd * Math.sqrt(fit.covariance[i][i]);
    const half = tQuantile((1 + confidence) / 2, fit.df) * se;
    return { specimen, n, mean: centre, sd, se, df: fit.df, ci: [centre - half, centre + half] };
  });

/** Do the blocks differ, given the specimens? F test of the block effects; null without residual scatter or with one block. */
export function blockEffect(fit: BlockFit): { F: number; df1: number; df2: number; p: number } | null {
  const { one_way: plain, df, rss } = fit;
  const df1 = plain.df - df;
  if (df1 < 1 || df < 1 || rss === 0) return null;
  const F = (plain.ss_within - rss) / df1 / (rss / df);
  return { F, df1, df2: df, p: fUpperTail(F, df1, df) };
}

/** Difference of each pair within its blocks, for which no specimen's scatter is taken to equal another's. */
interface PairedDifference {
  difference: number;
  se: number;
  df: number | null;
}

/**
 * Mean of the differences a − b of those blocks that hold both, with the scatter of these differences alone: the paired t of the blocks.
 * @returns null where fewer than two blocks hold both
 */
export function pairedByBlock(rows: (MountValue & { block: string })[], a: string, b: string): PairedDifference | null {
  const means = new Map<string, { a: number[]; b: number[] }>();
  for (const r of rows) {
    if (r.specimen !== a && r.specimen !== b) continue;
    const known = means.get(r.block) ?? { a: [], b: [] };
    known[r.specimen === a ? 'a' : 'b'].push(r.value);
    means.set(r.block, known);
  }
  const differences = [...means.values()].filter((m) => m.a.length > 0 && m.b.length > 0).map((m) => mean(m.a) - mean(m.b));
  const n = differences.length;
  if (n < 2) return null;
  const centre = mean(differences);
  const ss = differences.reduce((sum, d) => sum + (d - centre) ** 2, 0);
  const scale = Math.max(...differences.map(Math.abs));
  if (ss <= (ROUNDING * scale) ** 2 * n) return { difference: centre, se: 0, df: null };
  return { difference: centre, se: Math.sqrt(ss / (n - 1) / n), df: n - 1 };
}

function dot(a: Float64Array, b: Float64Array | number[]): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
}
