import type { SpecimenGroup } from './oneWay';
import type { AnalysisOptions, BorrowedScatter, PairTest } from './types';
import { verdictOf } from './verdict';

/** Degrees of freedom that a scatter not measured in this study is credited with. */
const BORROWED_DF = 10;
/** The study's own pooled scatter serves specimens of one mount from this many degrees of freedom on. */
export const ENOUGH_DF = 4;
/** An earlier scatter of the lab serves from this many degrees of freedom on. */
const ENOUGH_HISTORY_DF = 10;

/** Scatter for specimens of one mount that the study cannot tell: the lab's own where it rests on enough, else the stated default. */
export function lentScatter(alone: SpecimenGroup[], options: AnalysisOptions): BorrowedScatter {
  const lab = alone.map((g) => options.borrowed[g.specimen]).filter((l) => l && l.df >= ENOUGH_HISTORY_DF);
  if (lab.length === 0 || lab.length < alone.length) return { sd: options.default_mount_sd, df: BORROWED_DF, from: '' };
  return lab.reduce((widest, l) => (l.sd > widest.sd ? l : widest));
}

/**
 * Scatter at which the verdict would change: verdicts change where an end of the interval meets 0 or ±margin; of those scatters the nearest
 * to the one assumed, by ratio.
 * @param testAt the pair under another scatter; its interval widens with it
 */
export function flipScatter(testAt: (sd: number) => PairTest, margin: number, sd: number): number | null {
  const halfAt = (s: number) => {
    const { ci } = testAt(s);
    return (ci[1] - ci[0]) / 2;
  };
  const { difference, ci } = testAt(sd);
  if (ci[1] === ci[0]) return null;
  const now = verdictOf(ci, margin);
  const size = Math.abs(difference);
  const verdictAt = (h: number) => verdictOf([difference - h, difference + h], margin);
  const changes = [size, Math.abs(margin - size)]
    .filter((half) => half > 0 && [0.999, 1.001].some((f) => verdictAt(half * f) !== now))
    .flatMap((half) => scatterWith(halfAt, half, sd) ?? []);
  const distance = (s: number) => Math.abs(Math.log(s / sd));
  return changes.length === 0 ? null : changes.reduce((best, s) => (distance(s) < distance(best) ? s : best));
}

/** Scatter at which an interval has a half width, within a thousandfold of the one assumed. */
function scatterWith(halfAt: (sd: number) => number, half: number, sd: number): number | null {
  let [low, high] = [sd / 1000, sd * 1000];
  if (halfAt(low) > half || halfAt(high) < half) return null;
  for (let i = 0; i < 60; i++) {
    const middle = Math.sqrt(low * high);
    if (halfAt(middle) < half) low = middle;
    else high = middle;
  }
  return Math.sqrt(low * high);
}
