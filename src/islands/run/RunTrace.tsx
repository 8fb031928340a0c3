import { useEffect, useState } from 'react';
import type { ChannelLine } from '#core/trace/downsample';
import { type StageBand, TraceChart } from '#ui/TraceChart.tsx';

interface RunTraceProps {
  runId: number;
  title: string;
  stages: StageBand[];
  window: { start_s: number; end_s: number } | null;
  duration_s: number;
}

/** The trace of a stored run, fetched at the resolution of the screen. */
export function RunTrace({ runId, title, stages, window, duration_s }: RunTraceProps) {
  const [lines, setLines] = useState<ChannelLine[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [attempt, setAttempt] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new attempt fetches again
  useEffect(() => {
    const control = new AbortController();
    fetch(`/api/runs/${runId}/trace?columns=500`, { signal: control.signal })
      .then(async (r) => {
        const body = await r.json();
        if (!r.ok) throw new Error(body.error);
        setLines(body.lines);
        setProblem(null);
      })
      .catch((e: Error) => {
        if (control.signal.aborted) return;
        setProblem(e.message || 'The server does not answer.');
        setTimeout(() => setAttempt((n) => n + 1), 3000);
      });
    return () => control.abort();
  }, [runId, attempt]);
  if (problem) return <p className="border-l-4 border-ember py-6 pl-4">{problem} The trace is fetched again in a moment.</p>;
  if (!lines) return <p className="grid h-[640px] place-items-center text-soft">Fetching the trace…</p>;
  return (
    <TraceChart
      title={title}
      lines={lines}
      stages={stages}
      window={window}
      duration_s={duration_s}
      strips={['ambient', 'coolant', 'power', 'fan', 'clock', 'noise']}
    />
  );
}
