import { useCallback, useEffect, useRef, useState } from 'react';
import type { Places } from '#features/run/server/places';

/** A question that nobody answers for so long is asked again, ms: a form without its studies is a dead end. */
const MOST_WAIT_MS = 15_000;

export interface PlacesState {
  data: Places | null;
  problem: string | null;
  /** asks again, after something was stored */
  refresh: () => void;
  /** sees to it that a study is told in full, however old it is */
  need: (study: number | null | undefined) => void;
}

/**
 * Studies, specimens, mounts and rigs there are; asked for again every two seconds while the store does not answer.
 * @param study told in full, however old it is, now and where another is chosen
 */
export function usePlaces(study: number | null | undefined): PlacesState {
  const [state, setState] = useState<Pick<PlacesState, 'data' | 'problem'>>({ data: null, problem: null });
  const [asked, setAsked] = useState(0);
  const needed = useRef(new Set<number>());
  const known = useRef<Places | null>(null);
  known.current = state.data;
  const need = useCallback((id: number | null | undefined) => {
    if (!id || needed.current.has(id)) return;
    needed.current.add(id);
    // most are told in full already; while nothing is known, the question on its way may not name it
    if (!known.current?.studies.some((s) => s.id === id)) setAsked((n) => n + 1);
  }, []);
  // before the first question is sent
  if (study && known.current === null) needed.current.add(study);
  useEffect(() => need(study), [need, study]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked again where it is wanted
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout>;
    const ask = async () => {
      const url = `/api/places?study=${[...needed.current].slice(-20).join(',')}`;
      const response = await fetch(url, { signal: AbortSignal.timeout(MOST_WAIT_MS) }).catch(() => null);
      if (response?.ok) setState({ data: await response.json(), problem: null });
      else {
        setState((s) => ({
          ...s,
          problem: 'The store does not answer, so the studies cannot be listed; trying again in a moment.',
        }));
        timer = setTimeout(ask, 2000);
      }
    };
    void ask();
    return () => clearTimeout(timer);
  }, [asked]);
  return { ...state, refresh: () => setAsked((n) => n + 1), need };
}
