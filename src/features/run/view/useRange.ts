import { useCallback, useEffect, useRef, useState } from 'react';
import { LEFT, RIGHT } from '#ui/TraceChart.tsx';

/** Shortest span that is drawn, s. */
const LEAST_S = 10;

interface RangeDesk {
  range: [number, number];
  /** true where less than the whole run is seen */
  zoomed: boolean;
  set: (from: number, to: number) => void;
  /** makes the span so many times longer about a place, 0 at its left and 1 at its right */
  zoom: (factor: number, about?: number) => void;
  /** moves the span by a share of its length */
  pan: (share: number) => void;
  /** what the plot listens with: Ctrl and wheel or two fingers zoom, a drag moves it */
  plot: React.RefObject<HTMLDivElement | null>;
}

/** What of a run is shown: zoomed and moved by mouse, fingers and keys. */
export function useRange(duration: number): RangeDesk {
  const [range, setRange] = useState<[number, number]>([0, duration]);
  const plot = useRef<HTMLDivElement | null>(null);
  const set = useCallback(
    (from: number, to: number) => {
      const span = Math.min(duration, Math.max(LEAST_S, to - from));
      const start = Math.max(0, Math.min(duration - span, from));
      setRange([start, start + span]);
    },
    [duration],
  );
  const now = useRef(range);
  now.current = range;
  const zoom = useCallback(
    (factor: number, about = 0.5) => {
      const [from, to] = now.current;
      const span = Math.min(duration, Math.max(LEAST_S, (to - from) * factor));
      const at = from + about * (to - from);
      set(at - about * span, at + (1 - about) * span);
    },
    [duration, set],
  );
  const pan = useCallback(
    (share: number) => {
      const [from, to] = now.current;
      set(from + share * (to - from), to + share * (to - from));
    },
    [set],
  );
  useEffect(() => {
    const element = plot.current;
    if (!element) return;
    const fingers = new Map<number, number>();
    const width = () => Math.max(1, element.clientWidth - LEFT - RIGHT);
    const share = (x: number) => Math.max(0, Math.min(1, (x - element.getBoundingClientRect().left - LEFT) / width()));
    const wheel = (e: WheelEvent) => {
      if (e.ctrlKey || e.metaKey) {
        e.preventDefault();
        zoom(Math.exp(0.003 * e.deltaY), share(e.clientX));
      } else if (Math.abs(e.deltaX) > Math.abs(e.deltaY)) {
        e.preventDefault();
        pan(e.deltaX / width());
      }
    };
    const down = (e: PointerEvent) => {
      // handles and links of the chart have their own use for a press
      if ((e.target as Element).closest('button, a')) return;
      fingers.set(e.pointerId, e.clientX);
    };
    const move = (e: PointerEvent) => {
      const before = fingers.get(e.pointerId);
      if (before === undefined) return;
      const others = [...fingers].filter(([id]) => id !== e.pointerId).map(([, x]) => x);
      fingers.set(e.pointerId, e.clientX);
      if (others.length === 0) pan((before - e.clientX) / width());
      else {
        const [was, is] = [Math.abs(before - others[0]), Math.abs(e.clientX - others[0])];
        if (was > 8 && is > 8) zoom(was / is, share((e.clientX + others[0]) / 2));
      }
    };
    const up = (e: PointerEvent) => fingers.delete(e.pointerId);
    element.addEventListener('wheel', wheel, { passive: false });
    element.addEventListener('pointerdown', down);
    element.addEventListener('pointermove', move);
    globalThis.addEventListener('pointerup', up);
    globalThis.addEventListener('pointercancel', up);
    return () => {
      element.removeEventListener('wheel', wheel);
      element.removeEventListener('pointerdown', down);
      element.removeEventListener('pointermove', move);
      globalThis.removeEventListener('pointerup', up);
      globalThis.removeEventListener('pointercancel', up);
    };
  }, [zoom, pan]);
  return { range, zoomed: range[1] - range[0] < duration - 1e-6, set, zoom, pan, plot };
}
