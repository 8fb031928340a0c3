import { useEffect, useState } from 'react';
import type { ChannelLine } from '#core/signal/trace/downsample';

/** A run that can be laid beside the one that is shown. */
export interface OtherRun {
  id: number;
  name: string;
  /** s of its own clock at which its load begins */
  load_start_s: number;
}

/** Rises of other runs on the clock of this one, their loads beginning together. */
export function useBeside(others: OtherRun[], chosen: number[], [from, to]: [number, number], loadStart: number): ChannelLine[] {
  const [lines, setLines] = useState<ChannelLine[]>([]);
  const wanted = others.filter((o) => chosen.includes(o.id));
  const key = wanted.map((o) => o.id).join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for the runs
  useEffect(() => {
    if (wanted.length === 0) {
      setLines([]);
      return;
    }
    const control = new AbortController();
    const timer = setTimeout(async () => {
      const found = await Promise.all(
        wanted.map(async (o) => {
          const shift = loadStart - o.load_start_s;
          const span = `from=${Math.max(0, from - shift)}&to=${Math.max(1, to - shift)}`;
          const response = await fetch(`/api/runs/${o.id}/trace?columns=400&${span}`, { signal: control.signal }).catch(() => null);
          const body = response?.ok ? await response.json() : null;
          const rise = (body?.lines as ChannelLine[] | undefined)?.find((l) => l.role === 'rise');
          return rise ? [{ ...rise, name: o.name, t: rise.t.map((t) => t + shift) }] : [];
        }),
      );
      if (!control.signal.aborted) setLines(found.flat());
    }, 150);
    return () => {
      clearTimeout(timer);
      control.abort();
    };
  }, [key, from, to, loadStart]);
  return lines;
}
