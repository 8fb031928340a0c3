import { useEffect, useRef, useState } from 'react';
import { LiveTrace } from '#core/live/liveTrace';
import type { LiveView, SentReadings } from '#features/live/server/liveView';
import { listenShared } from '#ui/sharedEvents';

const DRAW_MS = 400;
/** After a drawing the page rests for so many times what it took: a slow machine must stay able to take a click. */
const REST = 3;
/** Readings older than this are kept at this distance, s: a screen shows no more. */
const DENSE_S = 600;
const THINNED_S = 2;

/** A live run as it goes on: its state as it is told, and its readings as they come. */
export function useLive(initial: LiveView): { view: LiveView; trace: LiveTrace; drawn: number; silent: boolean; now: () => number } {
  const [view, setView] = useState(initial);
  const [silent, setSilent] = useState(false);
  const [drawn, setDrawn] = useState(0);
  const trace = useRef<LiveTrace | null>(null);
  trace.current ??= new LiveTrace(initial.channels);
  const told = useRef({ at: Date.now(), now_s: initial.now_s });
  const { id } = initial;
  useEffect(() => {
    let fresh = true;
    const gather = async () => {
      const response = await fetch(`/api/live/${id}/readings`).catch(() => null);
      if (!response?.ok) return;
      const lines: Record<string, { t: number[]; v: (number | null)[] }> = await response.json();
      for (const [name, { t, v }] of Object.entries(lines)) append(trace.current, name, t, v);
      fresh = true;
    };
    void gather();
    const onEvent = (name: string, data: unknown) => {
      if (name === 'state') {
        const next = data as LiveView;
        told.current = { at: Date.now(), now_s: next.now_s };
        setView(next);
        setSilent(false);
        fresh = true;
        // nothing more comes of a run that is over
        if (next.over) leave();
      } else if (name === 'readings') {
        const { t, channels } = data as SentReadings;
        for (const [channel, values] of Object.entries(channels)) append(trace.current, channel, t, values);
        fresh = true;
      } else void gather();
    };
    const leave = listenShared(`/api/live/${id}/events`, ['state', 'readings', 'again'], onEvent, (open) => {
      setSilent(!open);
      if (open) void gather();
    });
    let timer = setTimeout(draw, DRAW_MS);
    let gone = false;
    function draw() {
      const from = performance.now();
      if (fresh) setDrawn((n) => n + 1);
      trace.current?.thin(trace.current.newest - DENSE_S, THINNED_S);
      fresh = false;
      afterDrawing(() => {
        if (!gone) timer = setTimeout(draw, Math.max(DRAW_MS, REST * (performance.now() - from)));
      });
    }
    return () => {
      leave();
      gone = true;
      clearTimeout(timer);
    };
  }, [id]);
  trace.current.muted.clear();
  for (const a of view.alarms)
    if (a.ended_at === null && a.code.startsWith('stuck:')) trace.current.muted.add(a.code.slice('stuck:'.length));
  const now = () => (view.over ? view.now_s : told.current.now_s + ((Date.now() - told.current.at) / 1000) * view.time_scale);
  return { view, trace: trace.current, drawn, silent, now };
}

/** Calls back when what changed is drawn; at once in a tab that nobody sees. */
function afterDrawing(then: () => void): void {
  if (document.hidden) setTimeout(then);
  else requestAnimationFrame(() => setTimeout(then));
}

function append(trace: LiveTrace | null, name: string, t: number[], values: (number | null)[]): void {
  for (const [i, v] of values.entries()) trace?.append(name, t[i], v ?? Number.NaN);
}
