import { useRef, useState } from 'react';
import type { ResultsChoice, StudyFacts } from '#features/results/model/facts';
import type { ResultsAnswer } from '#features/results/model/resultsAnswer';
import { useWorker } from '#ui/useWorker';
import type { ResultsApi } from './results.worker';

/** The comparison under the choice made, computed in a web worker; an answer that comes after a newer question is dropped. */
export function useAnswer(facts: StudyFacts, initial: ResultsAnswer, confidence: number) {
  const { ask } = useWorker<ResultsApi>('results', (api) => api.take(facts, confidence));
  const asked = useRef(0);
  const [answer, setAnswer] = useState(initial);
  const [chances, setChances] = useState(initial.analysis?.specimens.map((s) => s.chance_coolest) ?? null);
  const [choice, setChoice] = useState(initial.choice);
  const [told, setTold] = useState<string | null>(null);
  const choose = (change: Partial<ResultsChoice>) => {
    const next = { ...choice, ...change };
    setChoice(next);
    const ticket = ++asked.current;
    const api = ask();
    const isLast = () => ticket === asked.current;
    // the chances take longest, so the verdicts come before them
    api
      .answer(next)
      .then((a) => {
        if (!isLast()) return null;
        setAnswer(a);
        setChances(null);
        setTold(null);
        return api.chances(next);
      })
      .then((c) => isLast() && setChances(c))
      .catch((error: Error) => setTold(`This choice cannot be compared: ${error.message}`));
  };
  return { answer, chances, choice, choose, begin: ask, told };
}
