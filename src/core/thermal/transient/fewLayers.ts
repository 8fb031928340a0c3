import { type CauerLadder, cauerLadder } from './cauer';
import type { FosterChain } from './foster';
import { fosterChain } from './fosterFromLadder';
import { type BinnedStep, fitLadder, type LadderFit } from './ladderFit';
import { MISFIT } from './toldLayers';

/** Parts of a spectrum below this share of the whole start no layer. */
const LEAST_SHARE = 2e-3;

/** The Bayesian criterion of a fit (Schwarz 1978): less is better. */
export const bayesianCriterion = ({ chi2, n, df }: Pick<LadderFit, 'chi2' | 'n' | 'df'>): number => chi2 + (n - df) * Math.log(n);

/** A ladder with a boundary whose standard error is a larger share of the whole than this tells no layers. */
const PLACED = 0.03;
/** A ladder whose criterion lies this far above the best is no candidate, nor is any with fewer nodes. */
const HOPELESS = 50;

/** One more layer needs a criterion that is less by this: very strong evidence (Raftery 1995). */
const STRONG = 10;
/** Where the peaks of a spectrum do not lead on, it is cut into so many parts. */
const EVEN = [2, 3, 4];

/** How far apart the halves of a stage that is split begin, as ratios of their time constants. */
const SPLITS = [2.5, 10];

interface Tried {
  ladder: CauerLadder;
  fit: LadderFit;
}

/**
 * The ladders of few layers that could tell a step. It begins with one node for each peak of the spectrum, then takes always one more by
 * the stage that is best split while that helps, and always one less by the neighbours that are best taken as one until that is hopeless.
 * Each is fitted; the one with the fewest layers whose Bayesian criterion is near the least comes first.
 */
export function fewLayers(step: BinnedStep, spectrum: FosterChain): Tried[] {
  const tried = laddersFrom(step, [peaks(spectrum)]);
  if (tried[0] && fits(tried[0])) return simplestFirst(tried);
  // where the peaks lead into a corner, it begins again from what was tried, split, and from the spectrum cut evenly
  const again = [
    ...tried.flatMap((t) => SPLITS.flatMap((apart) => splitsAt(toStages(t), apart))),
    ...EVEN.map((n) => equalParts(spectrum, n)),
  ];
  return simplestFirst([...tried, ...laddersFrom(step, again)].sort(byCriterion));
}

/** The ladder with the fewest layers that nothing speaks against strongly, then all others by their criterion. */
function simplestFirst(sorted: Tried[]): Tried[] {
  const near = sorted.filter((t) => criterionOf(t) < criterionOf(sorted[0]) + STRONG);
  const first = near.reduce((few, t) => (t.ladder.R.length < few.ladder.R.length ? t : few), near[0]);
  return first ? [first, ...sorted.filter((t) => t !== first)] : sorted;
}

function laddersFrom(step: BinnedStep, starts: Stage[][]): Tried[] {
  const bestOf = (begins: Stage[][]): Tried | null => {
    const placed = begins.flatMap((stages) => fitLadder([step], cauerLadder(toChain(stages))) ?? []).filter(isPlaced);
    const fit = placed.reduce<LadderFit | null>((least, f) => (least && least.chi2 <= f.chi2 ? least : f), null);
    return fit && { ladder: fit.ladders[0], fit };
  };
  const grown: Tried[] = [];
  let stages = starts[0];
  for (let next = bestOf(starts); next; next = bestOf(splitsAt(stages, SPLITS[0]))) {
    const before = grown[grown.length - 1];
    grown.push(next);
    if (before && criterionOf(next) >= criterionOf(before)) break;
    stages = toStages(next);
  }
  const shrunk: Tried[] = [];
  stages = grown.length > 0 ? toStages(grown[0]) : starts[0];
  while (stages.length > 1) {
    const merged = stages.slice(1).map((_, at) => mergeAt(stages, at));
    const next = bestOf(merged);
    if (next) shrunk.push(next);
    const least = Math.min(...[...grown, ...shrunk].map(criterionOf));
    if (next && criterionOf(next) > least + HOPELESS) break;
    stages = next ? toStages(next) : merged[0];
  }
  return [...grown, ...shrunk].sort(byCriterion);
}

const fits = ({ fit }: Tried) => fit.chi2 / fit.df <= MISFIT;

const byCriterion = (a: Tried, b: Tried) => criterionOf(a) - criterionOf(b);

const criterionOf = ({ fit }: Tried) => bayesianCriterion(fit);

/** Whether every layer holds up more than its error, and the error of every boundary leaves it in its place, were the ladder right. */
function isPlaced(fit: LadderFit): boolean {
  const { R } = fit.ladders[0];
  const total = R.reduce((a, b) => a + b, 0);
  if (R.some((r, k) => r < 2 * (fit.estimate(([l]) => l.R[k]).se / fit.widened))) return false;
  return R.every((_, k) => fit.estimate(([l]) => l.R.slice(0, k + 1).reduce((a, b) => a + b, 0)).se < PLACED * total * fit.widened);
}

interface Stage {
  R: number;
  tau: number;
}

function toStages({ ladder }: Tried): Stage[] {
  const { R, tau } = fosterChain(ladder);
  return R.map((r, j) => ({ R: r, tau: tau[j] })).sort((a, b) => a.tau - b.tau);
}

const splitsAt = (stages: Stage[], apart: number) => stages.map((_, at) => splitAt(stages, at, apart));

function splitAt(stages: Stage[], at: number, apart: number): Stage[] {
  const { R, tau } = stages[at];
  const halves = [1 / Math.sqrt(apart), Math.sqrt(apart)].map((by) => ({ R: R / 2, tau: tau * by }));
  return [...stages.slice(0, at), ...halves, ...stages.slice(at + 1)].sort((a, b) => a.tau - b.tau);
}

const mergeAt = (stages: Stage[], at: number): Stage[] => [...stages.slice(0, at), lump(stages.slice(at, at + 2)), ...stages.slice(at + 2)];

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

/** A spectrum cut into so many stages of the same resistance. */
function equalParts({ R, tau }: FosterChain, parts: number): Stage[] {
  const total = R.reduce((a, b) => a + b, 0);
  const groups: Stage[][] = Array.from({ length: parts }, () => []);
  let before = 0;
  R.forEach((r, j) => {
    if (r > 0) groups[Math.min(parts - 1, Math.floor((parts * (before + r / 2)) / total))].push({ R: r, tau: tau[j] });
    before += r;
  });
  return groups.filter((g) => g.length > 0).map(lump);
}

/** Several stages as one: their resistance, at the mean of their ln τ. */
function lump(stages: Stage[]): Stage {
  const R = stages.reduce((sum, s) => sum + s.R, 0);
  return { R, tau: Math.exp(stages.reduce((sum, s) => sum + s.R * Math.log(s.tau), 0) / R) };
}
