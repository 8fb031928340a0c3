import { useRef, useState } from 'react';
import type { Sweep } from '#core/thermal/coolers/sweep';
import type { CoolerAnswer } from '#features/results/model/coolers/coolersAnswer';
import type { CoolerQuestion } from '#features/results/model/coolers/figures';
import type { StudyFacts } from '#features/results/model/facts';
import { useWorker } from '#ui/useWorker';
import type { CoolersApi } from './coolers.worker';

/** Verdicts where the coolers are held alike, computed in a web worker; what is asked is ahead of what is answered while one drags. */
export function useCoolers(facts: StudyFacts, sweeps: Sweep[], initial: CoolerAnswer) {
  const worker = useWorker<CoolersApi>('coolers', (api) => api.take(facts, sweeps));
  const latest = useRef<CoolerQuestion | null>(null);
  const busy = useRef(false);
  const [answer, setAnswer] = useState(initial);
  const [question, setQuestion] = useState(initial.question);
  const [told, setTold] = useState<string | null>(null);
  /** Only the newest question is answered: those between are dropped. */
  const work = async () => {
    busy.current = true;
    try {
      while (latest.current) {
        const next = latest.current;
        latest.current = null;
        setAnswer(await worker.ask().answer(next));
        setTold(null);
      }
    } catch (error) {
      setTold(`The coolers cannot be compared here: ${(error as Error).message}`);
    }
    busy.current = false;
  };
  const ask = (next: CoolerQuestion) => {
    setQuestion(next);
    latest.current = next;
    if (!busy.current) void work();
  };
  return { answer, question, ask, told };
}
