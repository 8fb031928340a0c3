import type { CauerLadder } from './cauer';
import { bayesianCriterion } from './fewLayers';
import { type BinnedStep, fitLadder, type LadderFit, type OwnParts } from './ladderFit';
import { darkPart, MISFIT, toldLayers } from './toldLayers';
import type { Estimate, Parting } from './types';

/**
 * Other places whose Bayesian criterion is less than this above the best one's are told beside it (Raftery 1995: strong evidence from 6
 * on).
 */
const AS_LIKELY = 6;

export interface BinnedMount extends BinnedStep {
  /** ladders that could tell it, the best first */
  ladders: CauerLadder[];
  /** how long it was read after the step, s */
  duration_s: number;
}

/**
 * Whether two mounts of one body differ, seen from the sensor, and from where on.
 *
 * Both steps are fitted together by ladders that share everything, all but one resistance, or all up to a node, each with the numbers
 * of nodes that tell the steps by themselves; the sharing with the least Bayesian criterion (Schwarz 1978) is taken. What does not fit
 * both within twice their scatter is no answer.
 * @param told told what has been done, from 0 to 1
 * @returns null where no ladder fits both
 */
export function partingOf(a: BinnedMount, b: BinnedMount, told: (share: number) => void = () => {}): Parting | null {
  const steps = [a, b];
  const sizes = sizesOf(a, b);
  let done = 0;
  const shareOut = (size: Size, own: OwnParts): LadderFit | null => {
    const fits = size.starts.flatMap((start) => fitLadder(steps, start, own) ?? []);
    told(++done / sizes.reduce((all, s) => all + 2 * s.nodes.length + 2, 0));
    return fits.reduce<LadderFit | null>((best, f) => (best && best.chi2 <= f.chi2 ? best : f), null);
  };
  const candidates: Candidate[] = [];
  for (const size of sizes) {
    const { nodes } = size;
    const nothing = nodes.map(() => false);
    const everything = nodes.map(() => true);
    candidates.push({ kind: 'alike', node: null, fit: shareOut(size, { R: nothing, C: nothing }) });
    for (const k of nodes)
      candidates.push({ kind: 'one_layer', node: k, fit: shareOut(size, { R: nodes.map((i) => i === k), C: nothing }) });
    candidates.push({ kind: 'from_the_start', node: 0, fit: shareOut(size, { R: everything, C: everything }) });
  }
  // only where one layer does not tell the difference more of them are let go
  if (leastOf(candidates)?.kind === 'from_the_start')
    for (const size of sizes) {
      const { nodes } = size;
      for (const k of nodes)
        candidates.push({
          kind: 'from_here_on',
          node: k,
          fit: shareOut(size, { R: nodes.map((i) => i >= k), C: nodes.map((i) => i > k) }),
        });
    }
  const alike = leastOf(candidates.filter((c) => c.kind === 'alike'));
  const least = leastOf(candidates);
  // several places are tried, so that chance alone would often find one a little better than none
  const best = alike && least && criterion(alike) - criterion(least) < AS_LIKELY ? alike : least;
  if (!best?.fit || best.fit.chi2 / best.fit.df > MISFIT) return null;
  const others = candidates.flatMap((c) =>
    c !== best && c.kind === best.kind && c.node !== best.node && c.fit && criterion(c) - criterion(best) < AS_LIKELY
      ? [upTo(c.fit, 0, c.node ?? 0).value]
      : [],
  );
  return describe(best.kind, best.fit, best.node, others, [a, b]);
}

/** One number of nodes, and the ladders that a fit of so many begins with. */
interface Size {
  nodes: number[];
  starts: CauerLadder[];
}

interface Candidate {
  kind: Parting['kind'];
  node: number | null;
  fit: LadderFit | null;
}

const criterion = ({ fit }: Candidate) => (fit ? bayesianCriterion(fit) : Number.POSITIVE_INFINITY);

const leastOf = (candidates: Candidate[]) =>
  candidates.reduce<Candidate | null>((best, c) => (best && criterion(best) <= criterion(c) ? best : c), null);

/** Every number of nodes that could tell either step, begun from the ladders of both. */
function sizesOf(a: BinnedMount, b: BinnedMount): Size[] {
  const counts = [...new Set([...a.ladders, ...b.ladders].map((l) => l.R.length))].sort((x, y) => x - y);
  const least = Math.min(...[a, b].map((m) => m.ladders[0]?.R.length ?? 1));
  return counts
    .filter((n) => n >= least)
    .map((n) => {
      const starts = [a, b].flatMap((m) => m.ladders.find((l) => l.R.length === n) ?? []);
      return { nodes: Array.from({ length: n }, (_, i) => i), starts };
    });
}

/** Resistance of the first nodes of one of the ladders. */
const upTo = (fit: LadderFit, ladder: number, nodes: number): Estimate =>
  nodes === 0 ? { value: 0, se: 0 } : fit.estimate((l) => sum(l[ladder].R.slice(0, nodes)));

function describe(
  kind: Parting['kind'],
  fit: LadderFit,
  node: number | null,
  others: number[],
  mounts: [BinnedMount, BinnedMount],
): Parting {
  const n = fit.ladders[0].R.length;
  const last = Math.min(1, fit.ladders.length - 1);
  const darks = mounts.map((m, i) => darkPart(fit.ladders[Math.min(i, last)], m.interval_s));
  const dark = Math.max(...darks.map((d) => d.nodes));
  const hidden = node !== null && dark > 0 && node <= Math.min(dark, n - 1);
  const told = mounts.map((m, i) => toldLayers(fit, m.duration_s, dark, Math.min(i, last)));
  const [first, second] = told.map((t) => t.total);
  return {
    kind,
    at: node === null ? null : upTo(fit, 0, node),
    ends: node === null || kind !== 'one_layer' || hidden ? null : [upTo(fit, 0, node + 1), upTo(fit, last, node + 1)],
    more: node === null ? null : fit.estimate((l) => sum(l[1].R) - sum(l[0].R)),
    others,
    before_j_per_k: node === null ? null : fit.estimate((l) => sum(l[0].C.slice(0, node + 1))),
    is_last: node === n - 1,
    within: hidden ? told[0].layers[0].until.value : null,
    layers: [told[0].layers, told[1].layers],
    totals: first && second ? [first, second] : null,
    misfit: fit.chi2 / fit.df,
  };
}

const sum = (values: number[]): number => values.reduce((a, b) => a + b, 0);
