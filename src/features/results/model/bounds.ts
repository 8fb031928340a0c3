import { type BoundSide, boundWords, OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import { type EventTime, logRank } from '#core/compare/timeToEvent';
import { holm } from '#core/stats/holm';
import { write } from '#core/text/words';
import type { ResultsChoice } from './facts';
import type { MountFigure } from './figures';

type Bounded = Pick<MountFigure, 'value' | 'at_or_above' | 'at_or_below'>;

/** The bound of a mount without a value, and on which side of it the value lies; null where nothing is known. */
export function boundOfMount(m: Bounded): { at: number; side: BoundSide } | null {
  if (m.value !== null) return null;
  if (m.at_or_above !== null) return { at: m.at_or_above, side: 'above' };
  return m.at_or_below == null ? null : { at: m.at_or_below, side: 'below' };
}

/** A bound in words, such as "at least 2300, passed every step". */
export function boundFrom(outcome: OutcomeKey, { at, side }: { at: number; side: BoundSide }): string {
  const { from, did } = boundWords(outcome, side);
  return `${from} ${write(at, OUTCOMES[outcome].digits)}, ${did}`;
}

/** Outcomes whose bounds are ranked with the values: what is measured is how far something went before it ended. */
const isRanked = (outcome: OutcomeKey) => ['time_to_event', 'highest_clock', 'lowest_voltage'].includes(outcome);

/**
 * Each pair of mounts of which some have bounds only, by the log-rank test, which takes all of them in; p is adjusted for the pairs told
 * (Holm).
 */
export function rankSentences(
  choice: Pick<ResultsChoice, 'outcome' | 'event'>,
  figures: MountFigure[],
  pairs: [string, string][],
): string[] {
  if (!isRanked(choice.outcome)) return [];
  const of = (name: string) => figures.filter((m) => m.specimen === name && m.excluded_reason === null);
  const ranked = pairs.flatMap(([a, b]) => {
    const mounts = [of(a), of(b)];
    if (mounts.some((own) => own.length === 0) || !mounts.flat().some(boundOfMount)) return [];
    const times = mounts.map((own) => own.flatMap((m) => wentOn(choice.outcome, m)));
    return [{ a, b, mounts, times, test: isBlurred(choice.outcome, mounts.flat()) ? null : logRank(times[0], times[1]) }];
  });
  const adjusted = holm(ranked.map((r) => r.test?.p ?? null));
  const what = choice.outcome === 'time_to_event' ? `Time to ${choice.event}` : OUTCOMES[choice.outcome].name;
  return ranked.map(({ a, b, times, test }, i) => {
    const head = `${what}, ${a} against ${b}`;
    const count = `${times[0].length} against ${times[1].length} mounts`;
    if (!test) return `${head}: not ranked, as a ladder began harder than where other mounts ended (${count}).`;
    const p = adjusted[i];
    if (p === null) return `${head}: not distinguishable (${count}).`;
    return `${head}: log-rank p = ${write(p, 3)}${test.exact ? ', exact' : ''}${adjusted.filter((v) => v !== null).length > 1 ? ', adjusted for the pairs' : ''} (${count}).`;
  });
}

/** How far a mount went, as a time to its end: one that passed all goes on, one that failed the easiest step ended before all others. */
function wentOn(outcome: OutcomeKey, m: MountFigure): EventTime[] {
  const sign = OUTCOMES[outcome].better === 'higher' ? 1 : -1;
  if (m.value !== null) return [{ s: sign * m.value, reached: true }];
  const bound = boundOfMount(m);
  if (!bound) return [];
  const goesOn = (bound.side === 'above') === (sign === 1);
  return [goesOn ? { s: sign * bound.at, reached: false } : { s: Number.NEGATIVE_INFINITY, reached: true }];
}

/** Did one mount fail a first step that is harder than where another ended? Which of the two went farther is not known then. */
function isBlurred(outcome: OutcomeKey, mounts: MountFigure[]): boolean {
  const sign = OUTCOMES[outcome].better === 'higher' ? 1 : -1;
  const ends = mounts.flatMap((m) => (m.value === null ? [] : sign * m.value));
  return mounts.some((m) => {
    const bound = boundOfMount(m);
    const isShort = bound !== null && (bound.side === 'below') === (sign === 1);
    return isShort && ends.some((end) => end < sign * bound.at);
  });
}
