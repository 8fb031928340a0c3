import { describe, expect, it } from 'vitest';
import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import { verdictSentence } from '#core/compare/verdict';
import { verdictWords } from './verdictWords';

const keys = Object.keys(OUTCOMES) as OutcomeKey[];
/** A pair in which b reads more than a by ten margins, and its turned-round likeness. */
const pair = (key: OutcomeKey, turned: boolean) => {
  const outcome = OUTCOMES[key];
  const size = (turned ? 1 : -1) * 10 * outcome.margin;
  const half = outcome.margin;
  return {
    ...{
      a: turned ? 'More' : 'Less',
      b: turned ? 'Less' : 'More',
      difference: size,
      ci: [size - half, size + half] as [number, number],
      confidence: 0.95,
    },
    ...{
      verdict: turned ? ('warmer' as const) : ('cooler' as const),
      firm: true,
      mounts: [4, 4] as [number, number],
      margin: outcome.margin,
      outcome,
      more_mounts: 0,
    },
  };
};

describe.each(keys)('%s', (key) => {
  const { better, unit } = OUTCOMES[key];
  const [best, worst] = better === 'lower' ? ['Less', 'More'] : ['More', 'Less'];
  it('is told from the better side, whichever of the two is named first', () => {
    const sentence = verdictSentence(pair(key, false));
    expect(sentence).toBe(verdictSentence(pair(key, true)));
    expect(sentence.startsWith(`${best} ${OUTCOMES[key].verb} `)).toBe(true);
    expect(sentence).toContain(` ${unit} ${OUTCOMES[key].than} ${worst} (95 % `);
  });
  it('has its interval the right way round', () => {
    const [, low, high] = /\(95 % ([\d.]+) to ([\d.]+)/.exec(verdictSentence(pair(key, false))) ?? [];
    expect(Number(low)).toBeCloseTo(9 * OUTCOMES[key].margin, 3);
    expect(Number(high)).toBeCloseTo(11 * OUTCOMES[key].margin, 3);
  });
  it('names the better of two columns in a table', () => {
    // a lies lower: it is the better one where lower is better
    expect(verdictWords('cooler', key).startsWith(better === 'lower' ? 'a ' : 'b ')).toBe(true);
    expect(verdictWords('warmer', key).startsWith(better === 'lower' ? 'b ' : 'a ')).toBe(true);
    expect(verdictWords('cooler_within_margin', key)).toMatch(/, less than matters$/);
    expect(verdictWords('tied', key)).toBe('equivalent');
  });
});
