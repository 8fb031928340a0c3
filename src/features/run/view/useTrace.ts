import { useEffect, useState } from 'react';
import type { ChannelLine } from '#core/signal/trace/downsample';

const REST_MS = 150;
const AGAIN_MS = 3000;
/** Two columns take about three pixels of the plot at its full width; more would be drawn over each other. */
const COLUMNS = 360;

/** Lines of a run at the resolution of the screen; those of before stay while finer ones are fetched. */
export function useTrace(runId: number, [from, to]: [number, number]): { lines: ChannelLine[] | null; problem: string | null } {
  const [lines, setLines] = useState<ChannelLine[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [attempt, setAttempt] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new attempt fetches again
  useEffect(() => {
    const control = new AbortController();
    const timer = setTimeout(
      async () => {
        try {
          const response = await fetch(`/api/runs/${runId}/trace?columns=${COLUMNS}&from=${from}&to=${to}`, { signal: control.signal });
          const body = await response.json();
          if (!response.ok) throw new Error(body.error);
          setLines(body.lines);
          setProblem(null);
        } catch (error) {
          if (control.signal.aborted) return;
          setProblem((error as Error).message || 'The server does not answer.');
          setTimeout(() => setAttempt((n) => n + 1), AGAIN_MS);
        }
      },
      lines ? REST_MS : 0,
    );
    return () => {
      clearTimeout(timer);
      control.abort();
    };
  }, [runId, from, to, attempt]);
  return { lines, problem };
}
