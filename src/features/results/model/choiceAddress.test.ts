import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import { runFact, studyFacts } from '../../../../tests/studyFacts.ts';
import { leadingChoice } from './choice';
import { choiceOf, choiceQuery } from './choiceAddress';
import type { ResultsChoice } from './facts';

const facts = { ...studyFacts([runFact('A', 1, 40), runFact('B', 1, 42)]), loads: ['Render', 'Long & hot'] };
const own = leadingChoice(facts);

describe('the address of a choice', () => {
  it('says nothing of what a study is looked at first', () => {
    expect(choiceQuery(own, own)).toBe('');
    expect(choiceOf(new URLSearchParams(''), own, facts)).toEqual(own);
  });
  it('gives the same choice back, whatever was chosen', () => {
    const some = fc.record({
      outcome: fc.constantFrom(...(Object.keys(OUTCOMES) as OutcomeKey[])),
      scatter: fc.constantFrom('auto', 'pooled', 'separate', 'strict'),
      family: fc.constantFrom('all', 'reference'),
      block: fc.constantFrom(null, 'day', 'rig', 'rig-day'),
      load: fc.constantFrom('Render', 'Long & hot'),
      power_w: fc.constantFrom(90.5, 140),
      event: fc.constantFrom('shut-off', 'first pop?'),
      sensor: fc.constantFrom(null, 'Die 1 (°C)'),
      with_excluded: fc.boolean(),
    });
    fc.assert(
      fc.property(some, (chosen) => {
        const choice = { ...own, ...chosen } as ResultsChoice;
        expect(choiceOf(new URLSearchParams(choiceQuery(choice, own)), own, facts)).toEqual(choice);
      }),
      { numRuns: 200 },
    );
  });
  it('leaves out what the study does not have and what is no choice', () => {
    const asked = new URLSearchParams('outcome=__proto__&method=guess&pairs=some&adjust=moon&load=Nothing&power=-4&at=x&excluded=maybe');
    expect(choiceOf(asked, own, facts)).toEqual(own);
  });
});
