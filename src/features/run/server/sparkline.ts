import { database } from '#app/database/pool';
import { getRun } from '#features/run/store/runs';
import { runTrace } from './runTrace';

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

/** The rise of a run as a small line, 600 units wide, for the bench. */
export async function sparkline(runId: number): Promise<Sparkline | null> {
  const run = await getRun(database(), runId);
  // a run that was typed has no trace
  if (!run || run.typed) return null;
  const { to, lines } = await runTrace(runId, null, null, 150);
  const line = lines.find((l) => l.role === 'rise') ?? lines.find((l) => l.role === 'sensor');
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
