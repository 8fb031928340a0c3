import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import type { AnalysedPair, Analysis } from '#core/compare/types';
import { list, plural, sentenceCase, writeMargin } from '#core/text/words';
import type { ResultsAnswer } from './resultsAnswer';

/** Words for the two sides of a difference where an outcome has its own. */
const SIDES: Partial<Record<OutcomeKey, [lower: string, higher: string]>> = {
  rise: ['cooler', 'warmer'],
  rise_at_power: ['cooler', 'warmer'],
  idle_rise: ['cooler', 'warmer'],
  hottest: ['cooler', 'warmer'],
  noise: ['quieter', 'louder'],
  clock: ['slower', 'faster'],
};
/** others named one by one; more are counted */
const MOST_NAMED = 8;

type Told = Pick<ResultsAnswer, 'analysis' | 'main' | 'undecided'>;

/**
 * A comparison in up to three sentences under its headline: where each stands against the reference, how much depends on the method, and
 * what would settle what is open.
 */
export function inShort({ analysis, main, undecided }: Told): string[] {
  if (!analysis || analysis.pairs.length === 0) return [];
  const pairs = main.flatMap((i) => analysis.pairs[i] ?? []);
  return [...(pairs.length > 1 ? [standing(analysis, pairs)] : []), method(analysis), next(pairs, undecided)];
}

/** Where the others stand against the reference, or how many pairs differ where there is none. */
function standing(analysis: Analysis, pairs: AnalysedPair[]): string {
  const { outcome, margin, reference } = analysis;
  const { unit, better } = OUTCOMES[outcome];
  const [lower, higher] = SIDES[outcome] ?? (better === 'lower' ? ['better', 'worse'] : ['worse', 'better']);
  const matters = `${writeMargin(margin)} ${unit}`;
  const isAgainst = pairs.every((p) => p.a === reference || p.b === reference);
  const groups = new Map<string, string[]>();
  for (const p of pairs) {
    const other = p.a === reference ? p.b : p.a;
    // a verdict is told of the first of a pair
    const isLower = p.verdict.startsWith('cooler') === (p.a === other);
    const side = isLower ? lower : higher;
    const words =
      p.verdict === 'tied'
        ? `equivalent within ±${matters}`
        : p.verdict === 'unresolved'
          ? 'not distinguishable'
          : !isAgainst
            ? 'different'
            : p.verdict.endsWith('within_margin')
              ? `${side} by less than ${matters}`
              : side;
    groups.set(words, [...(groups.get(words) ?? []), other]);
  }
  const isNamed = isAgainst && pairs.length <= MOST_NAMED;
  const said = [...groups].map(([words, names]) => `${isNamed ? list(names) : names.length} ${words}`);
  return `${isAgainst ? `Against ${reference}` : `Of ${plural(pairs.length, 'pair')}`}: ${said.join('; ')}.`;
}

/** How much depends on the method. */
function method({ pairs, scatter }: Analysis): string {
  if (scatter.pooled_sd === null) return 'Nothing was mounted twice yet, so the scatter between mounts is assumed.';
  const leaning = pairs.filter((p) => p.pooled && p.separate && !p.firm).length;
  if (leaning === 0) return pairs.length === 1 ? 'The verdict holds under every method.' : 'Every verdict holds under every method.';
  if (pairs.length === 1) return 'The verdict depends on the method.';
  return `${leaning} of ${pairs.length} verdicts ${leaning === 1 ? 'depends' : 'depend'} on the method.`;
}

/** What would settle what is open. */
function next(pairs: AnalysedPair[], undecided: Told['undecided']): string {
  const waiting = undecided?.runs.length ?? 0;
  if (waiting > 0)
    return `${plural(waiting, 'run')} ${waiting === 1 ? 'needs your decision and is' : 'need your decision and are'} left out until then.`;
  const open = pairs.filter((p) => p.verdict === 'unresolved');
  if (open.length === 0) return 'Nothing is open.';
  const what = open.length === 1 ? `${open[0].a} and ${open[0].b}` : `the ${open.length} open pairs`;
  // a bound, or readings without scatter, stay what they are however often they are repeated
  if (open.some((p) => p.ci === null || p.throttled.length > 0))
    return `More mounts alone would not settle ${what}: the verdicts below say why.`;
  const most = Math.max(...open.map((p) => p.more_mounts ?? Number.POSITIVE_INFINITY));
  return Number.isFinite(most)
    ? `About ${plural(most, 'further mount')} of each would settle ${what}.`
    : `${sentenceCase(what)} cannot be settled by a practical number of mounts.`;
}
