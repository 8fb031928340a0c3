import { useEffect, useRef, useState } from 'react';
import type { Span } from '#core/signal/trace/types';
import { useWorker } from '#ui/useWorker';
import type { WindowAnswer, WindowApi } from './window.worker';

/** Rest before the readings of a window are fetched, where a run has too many to hold them all. */
const REST_MS = 120;

/** What a window says about the rise, answered in a web worker while it moves; null before the readings are there. */
export function useWindowAnswer(runId: number, window: Span | null, limit: number, resolution: number | null): WindowAnswer | null {
  const { ask, end } = useWorker<WindowApi>('window');
  const [held, setHeld] = useState<'nothing' | 'all' | 'windows'>('nothing');
  const [answer, setAnswer] = useState<WindowAnswer | null>(null);
  const asked = useRef(0);
  useEffect(() => {
    const api = ask();
    void fetch(`/api/runs/${runId}/rise`)
      .then(async (r) => {
        const bytes = await r.arrayBuffer();
        if (r.status === 413) return setHeld('windows');
        if (!r.ok) return;
        await api.load(bytes);
        setHeld('all');
      })
      .catch(() => undefined);
    return end;
  }, [runId, ask, end]);
  useEffect(() => {
    if (held === 'nothing' || !window) return;
    const api = ask();
    const ticket = ++asked.current;
    const judge = () =>
      api.judge(window, limit, resolution).then((a) => {
        if (ticket === asked.current) setAnswer(a);
      });
    if (held === 'all') {
      void judge();
      return;
    }
    const timer = setTimeout(async () => {
      const response = await fetch(`/api/runs/${runId}/rise?from=${window.start_s}&to=${window.end_s}`).catch(() => null);
      if (!response?.ok || ticket !== asked.current) return;
      await api.load(await response.arrayBuffer());
      await judge();
    }, REST_MS);
    return () => clearTimeout(timer);
  }, [held, runId, window, limit, resolution, ask]);
  return answer;
}
