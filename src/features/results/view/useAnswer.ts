import { type Remote, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import type { ResultsChoice, StudyFacts } from '#features/results/model/facts';
import type { ResultsAnswer } from '#features/results/model/resultsAnswer';
import type { ResultsApi } from './results.worker';

/** The comparison under the choice made, computed in a web worker; an answer that comes after a newer question is dropped. */
export function useAnswer(facts: StudyFacts, initial: ResultsAnswer, confidence: number) {
  const worker = useRef<{ raw: Worker; api: Remote<ResultsApi> } | null>(null);
  const asked = useRef(0);
  const [answer, setAnswer] = useState(initial);
  const [chances, setChances] = useState(initial.analysis?.specimens.map((s) => s.chance_coolest) ?? null);
  const [choice, setChoice] = useState(initial.choice);
  const [told, setTold] = useState<string | null>(null);
  useEffect(() => () => worker.current?.raw.terminate(), []);
  /** Fetches and starts the worker, ahead of the first choice where one is about to be made. */
  const begin = () => {
    if (!worker.current) {
      const raw = new Worker(new URL('./results.worker.ts', import.meta.url), { type: 'module' });
      worker.current = { raw, api: wrap<ResultsApi>(raw) };
      void worker.current.api.take(facts, confidence);
    }
    return worker.current;
  };
  const choose = (change: Partial<ResultsChoice>) => {
    const next = { ...choice, ...change };
    setChoice(next);
    const ticket = ++asked.current;
    const { api } = begin();
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
  return { answer, chances, choice, choose, begin, told };
}
