import { describe, expect, it } from 'vitest';
import { studyFacts as facts, runFact as run } from '../../../../tests/studyFacts';
import { studyChoice } from './choice';
import type { RunFact, StudyFacts } from './facts';
import { inShort } from './inShort';
import { answerResults } from './resultsAnswer';

const mounts = (specimen: string, centre: number, spread = 0.1, count = 4, more: Partial<RunFact> = {}) =>
  Array.from({ length: count }, (_, i) => run(specimen, i + 1, centre + spread * (i % 2 === 0 ? 1 : -1), more));
const said = (study: StudyFacts) => inShort(answerResults(study, studyChoice(study)));

describe('a comparison in short', () => {
  it('says nothing of one specimen, and of two only what the headline leaves open', () => {
    expect(said(facts(mounts('R', 41)))).toEqual([]);
    expect(said(facts([...mounts('R', 41), ...mounts('A', 36)]))).toEqual(['The verdict holds under every method.', 'Nothing is open.']);
    expect(said(facts([...mounts('R', 41, 0, 1), ...mounts('A', 36, 0, 1)]))[0]).toBe(
      'Nothing was mounted twice yet, so the scatter between mounts is assumed.',
    );
  });

  it('says where each stands against the reference', () => {
    const study = facts([...mounts('R', 41), ...mounts('A', 36), ...mounts('B', 47), ...mounts('C', 41.05, 0.05)]);
    const [standing, method, open] = said(study);
    expect(standing).toBe('Against R: A cooler; C equivalent within ±1 K; B warmer.');
    expect(method).toBe('Every verdict holds under every method.');
    expect(open).toBe('Nothing is open.');
    // a higher clock is the better one
    const clocks = (specimen: string, c: number) =>
      [0, 4, -3, 2].map((d, i) => run(specimen, i + 1, 41 + d / 10, { values: { clock: c + d } }));
    const fast = facts([...clocks('R', 2100), ...clocks('A', 2300), ...clocks('B', 1900)]);
    const words = inShort(answerResults(fast, { ...studyChoice(fast), outcome: 'clock' }));
    expect(words[0]).toBe('Against R: A faster; B slower.');
  });

  it('says what would settle one open pair, or several', () => {
    const one = facts([...mounts('R', 41, 1.2), ...mounts('A', 42, 1.2)]);
    expect(said(one).at(-1)).toMatch(/^About \d+ further mounts? of each would settle [RA] and [RA]\.$/);
    const two = facts([...mounts('R', 41, 0.8), ...mounts('A', 42, 0.8), ...mounts('B', 40, 0.8)]);
    expect(said(two)[0]).toMatch(/not distinguishable/);
    expect(said(two).at(-1)).toMatch(/^About \d+ further mounts of each would settle the 2 open pairs\.$/);
  });

  it('does not promise that mounts settle what has a bound only', () => {
    const hot = Array.from({ length: 4 }, (_, i) => run('A', i + 1, 41.3 + 0.4 * i, i < 2 ? { censored: true, valid: false } : {}));
    const study = facts([...mounts('R', 41, 0.6), ...hot]);
    const [pair] = answerResults(study, studyChoice(study)).analysis?.pairs ?? [];
    expect(pair).toMatchObject({ verdict: 'unresolved', throttled: ['A'] });
    expect(said(study).at(-1)).toMatch(/^More mounts alone would not settle [RA] and [RA]: the verdicts below say why\.$/);
  });

  it('counts many, and puts runs that need a decision first', () => {
    const many = facts([...mounts('R', 41), ...Array.from({ length: 12 }, (_, i) => mounts(`M${i}`, i < 5 ? 30 : 55)).flat()]);
    expect(said(many)[0]).toBe('Against R: 5 cooler; 7 warmer.');
    const waiting = facts([...mounts('R', 41), ...mounts('A', 36), run('A', 5, 36, { undecided: ['load_differs'] })]);
    expect(said(waiting).at(-1)).toBe('1 run needs your decision and is left out until then.');
  });
});
