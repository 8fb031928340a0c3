import { useEffect, useState } from 'react';
import type { Places } from '#features/run/server/places';

export interface PlacesState {
  data: Places | null;
  problem: string | null;
  /** asks again, after something was stored */
  refresh: () => void;
}

/**
 * Studies, specimens, mounts and rigs there are; asked for again every two seconds while the store does not answer.
 * @param study among them, however old it is
 */
export function usePlaces(study: number | null | undefined): PlacesState {
  const [state, setState] = useState<Omit<PlacesState, 'refresh'>>({ data: null, problem: null });
  const [asked, setAsked] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked again where it is wanted
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout>;
    const ask = async () => {
      const response = await fetch(study ? `/api/places?study=${study}` : '/api/places').catch(() => null);
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
  }, [asked, study]);
  return { ...state, refresh: () => setAsked((n) => n + 1) };
}
