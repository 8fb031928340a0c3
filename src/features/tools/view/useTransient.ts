import { proxy } from 'comlink';
import { useRef, useState } from 'react';
import type { TransientOptions } from '#core/thermal/transient/types';
import { useWorker } from '#ui/useWorker';
import type { TransientAnswer, TransientApi, TransientSource } from './transient.worker';

/** Steps read into layers in a web worker, with how far it is; what is asked anew or stopped ends the worker at once. */
export function useTransient() {
  const { ask: begin, end } = useWorker<TransientApi>('transient');
  const asked = useRef(0);
  const [answer, setAnswer] = useState<TransientAnswer | null>(null);
  const [told, setTold] = useState<{ share: number; words: string } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const stop = () => {
    asked.current++;
    end();
    setTold(null);
  };
  const ask = async (sources: TransientSource[], options: TransientOptions) => {
    stop();
    setProblem(null);
    setTold({ share: 0, words: 'Beginning' });
    const ticket = asked.current;
    const isLast = () => ticket === asked.current;
    const progress = (share: number, words: string) => {
      if (isLast()) setTold({ share, words });
    };
    try {
      const got = await begin().answer(sources, options, proxy(progress));
      if (!isLast()) return;
      setAnswer(got);
    } catch (error) {
      if (!isLast()) return;
      setProblem(`The step cannot be read here: ${(error as Error).message}`);
    }
    stop();
  };
  return { answer, told, problem, ask, stop };
}
