import { proxy, type Remote, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import type { TransientOptions } from '#core/thermal/transient/types';
import type { TransientAnswer, TransientApi, TransientSource } from './transient.worker';

export interface Told {
  share: number;
  words: string;
}

/** Steps read into layers in a web worker, with how far it is; what is asked anew or stopped ends the worker at once. */
export function useTransient() {
  const worker = useRef<{ raw: Worker; api: Remote<TransientApi> } | null>(null);
  const [answer, setAnswer] = useState<TransientAnswer | null>(null);
  const [told, setTold] = useState<Told | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const stop = () => {
    worker.current?.raw.terminate();
    worker.current = null;
    setTold(null);
  };
  useEffect(() => () => worker.current?.raw.terminate(), []);
  const ask = async (sources: TransientSource[], options: TransientOptions) => {
    stop();
    setProblem(null);
    const raw = new Worker(new URL('./transient.worker.ts', import.meta.url), { type: 'module' });
    worker.current = { raw, api: wrap<TransientApi>(raw) };
    setTold({ share: 0, words: 'Beginning' });
    try {
      const got = await worker.current.api.answer(
        sources,
        options,
        proxy((share, words) => {
          if (worker.current?.raw === raw) setTold({ share, words });
        }),
      );
      if (worker.current?.raw !== raw) return;
      setAnswer(got);
    } catch (error) {
      if (worker.current?.raw !== raw) return;
      setProblem(`The step cannot be read here: ${(error as Error).message}`);
    }
    stop();
  };
  return { answer, told, problem, ask, stop };
}
