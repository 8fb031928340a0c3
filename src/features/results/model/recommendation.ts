import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import { compareStudy, saysTheSame, studyChoice } from './choice';
import type { StudyFacts } from './facts';

/** A verdict as it was when a sentence was rested on it. */
export interface RestsOn {
  outcome: string;
  load: string | null;
  a: string;
  b: string;
  verdict: string;
  firm: boolean;
  sentence: string;
}

/** Whether a verdict still stands as it did when words were rested on it. */
export interface RestCheck extends RestsOn {
  /** moved: the verdict stands, its figures do not; changed: it says something else now; gone: the pair is not judged any more */
  state: 'stands' | 'moved' | 'changed' | 'gone';
  now: string | null;
}

/** Holds verdicts that words were rested on against those of now, each under the study's own settings. */
export function checkRests(facts: StudyFacts, rests: RestsOn[], confidence: number): RestCheck[] {
  const known = new Map<string, ReturnType<typeof compareStudy>>();
  return rests.map((r) => {
    const key = `${r.outcome}\n${r.load ?? ''}`;
    if (!known.has(key))
      known.set(
        key,
        r.outcome in OUTCOMES
          ? compareStudy(facts, { ...studyChoice(facts), outcome: r.outcome as OutcomeKey, load: r.load }, confidence)
          : null,
      );
    const pair = known.get(key)?.pairs.find((p) => [p.a, p.b].includes(r.a) && [p.a, p.b].includes(r.b));
    if (!pair) return { ...r, state: 'gone', now: null };
    const was = { ...pair, a: r.a, b: r.b, verdict: r.verdict as typeof pair.verdict, firm: r.firm };
    const state = !saysTheSame(was, pair) ? 'changed' : pair.sentence === r.sentence ? 'stands' : 'moved';
    return { ...r, state, now: pair.sentence };
  });
}

/** What a rest is chosen by. */
export type RestKey = Pick<RestsOn, 'outcome' | 'load' | 'a' | 'b'>;

/** The verdicts of now for the pairs that words are to rest on; pairs that are not judged are left out. */
export function restsNow(facts: StudyFacts, keys: RestKey[], confidence: number): RestsOn[] {
  const empty = keys.map((k) => ({ ...k, verdict: '', firm: false, sentence: '' }));
  const judged = new Map<string, ReturnType<typeof compareStudy>>();
  return empty.flatMap((r) => {
    const key = `${r.outcome}\n${r.load ?? ''}`;
    if (!(r.outcome in OUTCOMES)) return [];
    if (!judged.has(key))
      judged.set(key, compareStudy(facts, { ...studyChoice(facts), outcome: r.outcome as OutcomeKey, load: r.load }, confidence));
    const pair = judged.get(key)?.pairs.find((p) => [p.a, p.b].includes(r.a) && [p.a, p.b].includes(r.b));
    return pair
      ? [{ outcome: r.outcome, load: r.load, a: pair.a, b: pair.b, verdict: pair.verdict, firm: pair.firm, sentence: pair.sentence }]
      : [];
  });
}
