import { database } from '#app/database/pool';
import { getRun } from '#features/run/store/runs';
import { runLine } from './runTrace';

export interface Sparkline {
  path: string;
  /** window in drawing units */
  window: [number, number] | null;
  ticks: { x: number; label: string }[];
  /** what the highest point stands for */
  top: string;
}

const WIDTH = 600;
const HEIGHT = 104;

/** Lines that were drawn, the one asked for longest ago first. */
const MOST_KEPT = 200;
const kept = new Map<string, Promise<Sparkline | null>>();

/**
 * The rise of a run as a small line, 600 units wide, for the bench; as it was drawn before where nothing of the run was written since.
 * @param state of its row: another whenever it was written
 */
export function sparkline(runId: number, state: string): Promise<Sparkline | null> {
  const key = `${runId}/${state}`;
  const line = kept.get(key) ?? drawLine(runId);
  kept.delete(key);
  kept.set(key, line);
  line.catch(() => kept.delete(key));
  for (const oldest of kept.keys()) {
    if (kept.size <= MOST_KEPT) break;
    kept.delete(oldest);
  }
  return line;
}

async function drawLine(runId: number): Promise<Sparkline | null> {
  const run = await getRun(database(), runId);
  // a run that was typed has no trace
  if (!run || run.typed) return null;
  const line = await runLine(run, ['rise', 'sensor'], 150);
  const to = run.result.duration_s;
  if (!line) return null;
  const known = line.v.filter((v): v is number => v !== null);
  const top = Math.max(...known);
  const x = (t: number) => (WIDTH * t) / to;
  const y = (v: number) => HEIGHT + 4 - (HEIGHT * 0.86 * v) / top;
  let pen = 'M';
  const path = line.t
    .map((t, i) => {
      const v = line.v[i];
      if (v === null) {
        pen = 'M';
        return '';
      }
      const step = `${pen}${x(t).toFixed(1)} ${y(v).toFixed(1)}`;
      pen = 'L';
      return step;
    })
    .join('');
  const step = [2, 5, 10, 15, 30, 60].find((m) => to / 60 / m <= 6) ?? Math.ceil(to / 60 / 6);
  const ticks = Array.from({ length: Math.floor(to / 60 / step) + 1 }, (_, i) => ({
    x: x(i * step * 60),
    label: i === 0 ? '0 min' : String(i * step),
  }));
  const { window } = run.result;
  return {
    path,
    window: window && [x(window.start_s), x(window.end_s)],
    ticks,
    top: `${line.role === 'rise' ? 'ΔT over ambient' : 'Temperature'}, up to ${top.toFixed(1)} ${line.role === 'rise' ? 'K' : '°C'}`,
  };
}
