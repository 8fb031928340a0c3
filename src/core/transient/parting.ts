import type { CauerLadder } from './cauer';
import { bayesianCriterion } from './fewLayers';
import { type BinnedStep, fitLadder, type LadderFit, type OwnParts } from './ladderFit';
import type { Estimate, Parting } from './types';

/** Other places whose Bayesian criterion is less than this above the best one's are told beside it (Raftery 1995: strong evidence from 6 on). */
const AS_LIKELY = 6;

export interface BinnedMount extends BinnedStep {
  /** ladders that could tell it, the best first */
  ladders: CauerLadder[];
  /** standard deviation of one reading, K/W */
  sd: number;
}

/**
 * Whether two mounts of one body differ, seen from the sensor, and from where on.
 *
 * Both steps are fitted together by ladders that share everything, all but one resistance, or all up to a node; the sharing
 * with the least Bayesian criterion (Schwarz 1978) is taken.
 * @returns null where no ladder fits both
 */
export function partingOf(a: BinnedMount, b: BinnedMount): Parting | null {
  const both = chooseApart(a, b);
  if (!both) return null;
  const { apart, starts } = both;
  const steps = [a, b];
  const sd = Math.sqrt((a.sd ** 2 + b.sd ** 2) / 2);
  const n = starts[0].R.length;
  const bestOf = (own: OwnParts) =>
    starts.flatMap((start) => fitLadder(steps, start, sd, own) ?? []).reduce<LadderFit | null>((best, f) => (best && best.chi2 <= f.chi2 ? best : f), null);
  const nodes = Array.from({ length: n }, (_, i) => i);
  const nothing = nodes.map(() => false);
  const candidates: Candidate[] = [{ kind: 'alike', node: null, fit: bestOf({ R: nothing, C: nothing }) }];
  for (const k of nodes) candidates.push({ kind: 'one_layer', node: k, fit: bestOf({ R: nodes.map((i) => i === k), C: nothing }) });
  // only where one layer does not tell the difference more of them are let go
  const whole: Candidate = { kind: 'from_the_start', node: 0, fit: apart };
  if (criterion(whole) < Math.min(...candidates.map(criterion))) {
    for (const k of nodes) candidates.push({ kind: 'from_here_on', node: k, fit: bestOf({ R: nodes.map((i) => i >= k), C: nodes.map((i) => i > k) }) });
    candidates.push(whole);
  }
  const ranked = candidates.sort((p, q) => criterion(p) - criterion(q));
  const [best] = ranked;
  if (!best.fit) return null;
  const others = ranked.flatMap((c) => (c !== best && c.kind === best.kind && c.node !== null && criterion(c) - criterion(best) < AS_LIKELY ? [c.node] : []));
  return describe(best.kind, best.fit, best.node, others);
}

interface Candidate {
  kind: Parting['kind'];
  node: number | null;
  fit: LadderFit | null;
}

const criterion = ({ fit }: Candidate) => (fit ? bayesianCriterion(fit) : Number.POSITIVE_INFINITY);

/** Two ladders of their own, of the number of nodes that tells both best. */
function chooseApart(a: BinnedMount, b: BinnedMount): { apart: LadderFit; starts: CauerLadder[] } | null {
  const sd = Math.sqrt((a.sd ** 2 + b.sd ** 2) / 2);
  const sizes = new Set([a.ladders[0]?.R.length, b.ladders[0]?.R.length]);
  const ofSize = (n: number) => [a, b].map((m) => m.ladders.find((l) => l.R.length === n));
  const tried = [...sizes].flatMap((n) => {
    const [la, lb] = n === undefined ? [] : ofSize(n);
    const starts = [la, lb].filter((l) => l !== undefined);
    if (starts.length === 0) return [];
    const all = starts[0].R.map(() => true);
    const fits = starts.flatMap((start) => fitLadder([a, b], start, sd, { R: all, C: all }) ?? []);
    const apart = fits.sort((p, q) => p.chi2 - q.chi2)[0];
    return apart ? [{ apart, starts }] : [];
  });
  return tried.sort((p, q) => bayesianCriterion(p.apart) - bayesianCriterion(q.apart))[0] ?? null;
}

function describe(kind: Parting['kind'], fit: LadderFit, node: number | null, others: number[]): Parting {
  const upTo = (s: number, k: number): Estimate => (k === 0 ? { value: 0, se: 0 } : fit.estimate((l) => sum(l[s].R.slice(0, k))));
  const n = fit.ladders[0].R.length;
  const last = Math.min(1, fit.ladders.length - 1);
  return {
    kind,
    at: node === null ? null : upTo(0, node),
    ends: node === null || kind !== 'one_layer' ? null : [upTo(0, node + 1), upTo(last, node + 1)],
    more: node === null ? null : fit.estimate((l) => sum(l[1].R) - sum(l[0].R)),
    others: others.map((k) => upTo(0, k).value),
    before_j_per_k: node === null ? null : fit.estimate((l) => sum(l[0].C.slice(0, node + 1))),
    is_last: node === n - 1,
    totals: [fit.estimate((l) => sum(l[0].R)), fit.estimate((l) => sum(l[last].R))],
  };
}

function sum(values: number[]): number {
  return values.reduce((a, b) => a + b, 0);
}
