import { useEffect, useRef, useState } from 'react';
import type { AdjustedAgainstOthers } from '#core/ranking/againstOthers';
import { send } from '#ui/send';

interface AgainstOthers {
  /** null while nothing was computed */
  told: AdjustedAgainstOthers[] | null;
  /** share that is done; null while nothing is under way */
  done: number | null;
  problem: string | null;
  start: () => void;
  cancel: () => void;
}

/**
 * Each set-up against the others, handful by handful where there are many.
 * @param known what came with the page; null where there are too many to do at once
 * @param address the choices of the place, as they stand in its address
 */
export function useAgainstOthers(known: AdjustedAgainstOthers[] | null, address: string): AgainstOthers {
  const [told, setTold] = useState(known);
  const [done, setDone] = useState<number | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const under = useRef<AbortController | null>(null);
  useEffect(() => () => under.current?.abort(), []);
  const start = async () => {
    const control = new AbortController();
    under.current = control;
    setDone(0);
    const all: AdjustedAgainstOthers[] = [];
    for (let part = 0, parts = 1; part < parts; part++) {
      const join = address === '' ? '?' : `${address}&`;
      const answer = await send<{ told: AdjustedAgainstOthers[]; parts: number }>(
        `/api/ranking/others${join}part=${part}`,
        { signal: control.signal },
        setProblem,
      );
      if (!answer || control.signal.aborted) return setDone(null);
      all.push(...answer.told);
      parts = answer.parts;
      setDone((part + 1) / parts);
    }
    setTold(all);
    setDone(null);
  };
  return { told, done, problem, start: () => void start(), cancel: () => under.current?.abort() };
}
