import { type Remote, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import type { ResultsAnswer } from '#domain/results/answer';
import type { ResultsChoice, StudyFacts } from '#domain/results/facts';
import type { ResultsApi } from '../../workers/results.worker.ts';

/** The comparison under the choice made, computed in a web worker; an answer that comes after a newer question is dropped. */
export function useAnswer(facts: StudyFacts, initial: ResultsAnswer, confidence: number) {
  const worker = useRef<{ raw: Worker; api: Remote<ResultsApi> } | null>(null);
  const asked = useRef(0);
  const [answer, setAnswer] = useState(initial);
  const [choice, setChoice] = useState(initial.choice);
  const [told, setTold] = useState<string | null>(null);
  useEffect(() => () => worker.current?.raw.terminate(), []);
  const choose = (change: Partial<ResultsChoice>) => {
    const next = { ...choice, ...change };
    setChoice(next);
    const ticket = ++asked.current;
    if (!worker.current) {
      const raw = new Worker(new URL('../../workers/results.worker.ts', import.meta.url), { type: 'module' });
      worker.current = { raw, api: wrap<ResultsApi>(raw) };
    }
    worker.current.api.answerResults(facts, next, confidence).then(
      (a) => {
        if (ticket !== asked.current) return;
        setAnswer(a);
        setTold(null);
      },
      (error: Error) => setTold(`This choice cannot be compared: ${error.message}`),
    );
  };
  return { answer, choice, choose, told };
}
