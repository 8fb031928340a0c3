import { useRef } from 'react';
import type { Span } from '#core/signal/trace/types';
import { write } from '#core/text/words';
import { LEAST_WINDOW_S } from '#features/run/model/judgement';

interface WindowHandlesProps {
  window: Span;
  /** the load, within which a window lies */
  bounds: Span;
  range: [number, number];
  /** true where it is not the one that is kept, which the chart draws */
  moved: boolean;
  /** s that one press of a key moves by */
  step: number;
  onChange: (window: Span) => void;
}

/** The averaging window over the plot: its edges and its whole are dragged, or nudged by arrow keys. */
export function WindowHandles({ window, bounds, range: [from, to], moved, step, onChange }: WindowHandlesProps) {
  const frame = useRef<HTMLDivElement>(null);
  const held = useRef<{ what: 'start' | 'end' | 'whole'; x: number; from: Span } | null>(null);
  const at = (t: number) => `${(100 * (t - from)) / (to - from)}%`;
  const put = (what: 'start' | 'end' | 'whole', base: Span, by: number) => {
    if (what === 'whole') {
      const length = base.end_s - base.start_s;
      const start = Math.max(bounds.start_s, Math.min(bounds.end_s - length, base.start_s + by));
      return onChange({ start_s: start, end_s: start + length });
    }
    if (what === 'start')
      return onChange({ ...base, start_s: Math.max(bounds.start_s, Math.min(base.end_s - LEAST_WINDOW_S, base.start_s + by)) });
    onChange({ ...base, end_s: Math.min(bounds.end_s, Math.max(base.start_s + LEAST_WINDOW_S, base.end_s + by)) });
  };
  const handle = (what: 'start' | 'end' | 'whole') => ({
    onPointerDown: (e: React.PointerEvent) => {
      e.currentTarget.setPointerCapture(e.pointerId);
      held.current = { what, x: e.clientX, from: window };
    },
    onPointerMove: (e: React.PointerEvent) => {
      const box = frame.current?.getBoundingClientRect();
      if (!held.current || !box) return;
      put(what, held.current.from, ((e.clientX - held.current.x) / box.width) * (to - from));
    },
    onPointerUp: () => {
      held.current = null;
    },
    onPointerCancel: () => {
      held.current = null;
    },
    onKeyDown: (e: React.KeyboardEvent) => {
      const by = { ArrowLeft: -1, ArrowRight: 1, PageDown: -10, PageUp: 10 }[e.key];
      if (by === undefined) return;
      e.preventDefault();
      // the plot's own keys move what is seen
      e.stopPropagation();
      put(what, window, by * step * (e.shiftKey ? 10 : 1));
    },
  });
  const slider = (what: 'start' | 'end', value: number, name: string) => (
    <button
      type="button"
      role="slider"
      aria-label={name}
      aria-valuenow={Math.round(value)}
      aria-valuemin={Math.round(bounds.start_s)}
      aria-valuemax={Math.round(bounds.end_s)}
      aria-valuetext={`${write(value, 0)} s`}
      // each edge is taken from outside the window, below its bar: on a phone the window is narrower than two fingers
      className={`pointer-events-auto absolute top-7 bottom-0 w-6 cursor-ew-resize touch-none ${what === 'start' ? '-translate-x-full' : ''}`}
      style={{ left: at(value) }}
      {...handle(what)}
    >
      <span className={`absolute inset-y-0 w-[3px] bg-ember ${what === 'start' ? 'right-0' : 'left-0'}`} />
      <span
        className={`absolute top-[12%] h-10 w-3.5 rounded-[2px] border-2 border-paper bg-ember ${what === 'start' ? 'right-0 translate-x-1/2' : 'left-0 -translate-x-1/2'}`}
      />
    </button>
  );
  const left = Math.max(from, window.start_s);
  const span = { left: at(left), width: `${(100 * Math.max(0, Math.min(to, window.end_s) - left)) / (to - from)}%` };
  const seen = (t: number) => t >= from && t <= to;
  return (
    <div ref={frame} className="pointer-events-none absolute inset-0 overflow-hidden">
      {moved && <div className="absolute inset-y-0 bg-ember/20" style={span} />}
      <button
        type="button"
        aria-label={`Window from ${write(window.start_s, 0)} to ${write(window.end_s, 0)} s; arrow keys move it`}
        className="pointer-events-auto absolute top-0 h-7 min-w-6 cursor-grab touch-none bg-ember/25 hover:bg-ember/40"
        style={span}
        {...handle('whole')}
      />
      {seen(window.start_s) && slider('start', window.start_s, 'Start of the averaging window')}
      {seen(window.end_s) && slider('end', window.end_s, 'End of the averaging window')}
    </div>
  );
}
