import { type Remote, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import type { WindowAnswer, WindowApi } from '../../workers/window.worker.ts';

export interface Span {
  start_s: number;
  end_s: number;
}

/** What a window says about the rise, answered in a web worker while it moves; null before the readings are there. */
export function useWindowAnswer(runId: number, window: Span | null, limit: number, resolution: number | null): WindowAnswer | null {
  const worker = useRef<{ raw: Worker; api: Remote<WindowApi> } | null>(null);
  const [ready, setReady] = useState(false);
  const [answer, setAnswer] = useState<WindowAnswer | null>(null);
  const asked = useRef(0);
  useEffect(() => {
    const raw = new Worker(new URL('../../workers/window.worker.ts', import.meta.url), { type: 'module' });
    const api = wrap<WindowApi>(raw);
    worker.current = { raw, api };
    void fetch(`/api/runs/${runId}/rise`)
      .then(async (r) => {
        if (!r.ok) return;
        await api.load(await r.arrayBuffer());
        setReady(true);
      })
      .catch(() => undefined);
    return () => raw.terminate();
  }, [runId]);
  useEffect(() => {
    if (!ready || !window || !worker.current) return;
    const ticket = ++asked.current;
    void worker.current.api.judge(window, limit, resolution).then((a) => {
      if (ticket === asked.current) setAnswer(a);
    });
  }, [ready, window, limit, resolution]);
  return answer;
}
