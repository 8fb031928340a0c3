import { type CauerLadder, cauerLadder } from './cauer';
import type { FosterChain } from './foster';
import { fosterChain } from './fosterFromLadder';
import { type BinnedStep, fitLadder, type LadderFit } from './ladderFit';

/** Parts of a spectrum below this share of the whole start no layer. */
const LEAST_SHARE = 2e-3;

/** The Bayesian criterion of a fit (Schwarz 1978): less is better. */
export function bayesianCriterion({ chi2, n, df }: Pick<LadderFit, 'chi2' | 'n' | 'df'>): number {
  return chi2 + (n - df) * Math.log(n);
}

/** A ladder whose criterion lies this far above the best is no candidate, nor is any with fewer nodes. */
const HOPELESS = 50;

/**
 * The ladders of few layers that could tell a step: one node for each peak of its spectrum, then always one less, by the pair of
 * neighbours that are best taken as one. Each is fitted; the one with the least Bayesian criterion comes first.
 */
export function fewLayers(step: BinnedStep, spectrum: FosterChain, sd: number): { ladder: CauerLadder; fit: LadderFit }[] {
  const tried: { ladder: CauerLadder; fit: LadderFit }[] = [];
  let starts = [peaks(spectrum)];
  while (starts.length > 0 && starts[0].length > 0) {
    const fits = starts.flatMap((stages) => fitLadder([step], cauerLadder(toChain(stages)), sd) ?? []);
    const best = fits.reduce<LadderFit | null>((least, f) => (least && least.chi2 <= f.chi2 ? least : f), null);
    if (best) tried.push({ ladder: best.ladders[0], fit: best });
    const least = Math.min(...tried.map((t) => bayesianCriterion(t.fit)));
    if (best && bayesianCriterion(best) > least + HOPELESS) break;
    const from = best ? toStages(fosterChain(best.ladders[0])) : starts[0];
    starts = from.slice(1).map((_, at) => [...from.slice(0, at), lump(from.slice(at, at + 2)), ...from.slice(at + 2)]);
  }
  return tried.sort((a, b) => bayesianCriterion(a.fit) - bayesianCriterion(b.fit));
}

interface Stage {
  R: number;
  tau: number;
}

const toStages = ({ R, tau }: FosterChain): Stage[] => R.map((r, j) => ({ R: r, tau: tau[j] })).sort((a, b) => a.tau - b.tau);

const toChain = (stages: Stage[]): FosterChain => ({ R: stages.map((s) => s.R), tau: stages.map((s) => s.tau) });

/** One stage for each peak of a spectrum, between the lows on both sides. */
function peaks({ R, tau }: FosterChain): Stage[] {
  const total = R.reduce((a, b) => a + b, 0);
  const groups: Stage[][] = [[]];
  R.forEach((r, j) => {
    const climbsAgain = r > R[j - 1] && R[j - 1] < R[j - 2];
    if (climbsAgain || r <= 1e-7 * total) groups.push([]);
    if (r > 1e-7 * total) groups[groups.length - 1].push({ R: r, tau: tau[j] });
  });
  return groups
    .filter((g) => g.length > 0)
    .map(lump)
    .filter((s) => s.R > LEAST_SHARE * total);
}

/** Several stages as one: their resistance, at the mean of their ln τ. */
function lump(stages: Stage[]): Stage {
  const R = stages.reduce((sum, s) => sum + s.R, 0);
  return { R, tau: Math.exp(stages.reduce((sum, s) => sum + s.R * Math.log(s.tau), 0) / R) };
}
