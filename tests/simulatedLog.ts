import { reduceLogs } from '#core/signal/reduce/reduceLogs';
import type { ReduceOptions, Reduction } from '#core/signal/reduce/types';
import { NORTH_BENCH } from '#simulator/rigs';
import { type SimulatedRun, simulateRun } from '#simulator/simulateRun';
import { writeLog } from '#simulator/writeLog';

/** A run that is right in every way: four minutes of idle, twenty of load, and a cool-down. */
export const base: SimulatedRun = {
  interface_k_per_w: 0.06,
  idle_s: 240,
  load_s: 1200,
  cooldown_s: 160,
  period_s: 2,
  room_c: 22,
  room_drift_k_per_h: 0,
  warm_start_k: 0,
  seed: 9,
};
const encode = (text: string) => new TextEncoder().encode(text);

/**
 * Reduces a simulated run.
 * @param change how it differs from the base
 * @param edit changes the cells of a line; line 0 is the header
 */
export function reduceRun(
  change: Partial<SimulatedRun> = {},
  options: Partial<ReduceOptions> = {},
  edit: (line: string[], i: number) => string[] = (l) => l,
): Reduction {
  const lines = writeLog(simulateRun(NORTH_BENCH, { ...base, ...change }), 1780300800)
    .trim()
    .split('\n');
  const text = lines.map((l, i) => edit(l.split(','), i).join(',')).join('\n');
  return reduceLogs([{ name: 'run.csv', bytes: encode(`${text}\n`) }], {}, { limit_c: NORTH_BENCH.limit_c, ...options }).reduction;
}
export const codes = (run: { findings: { code: string }[] }) => run.findings.map((f) => f.code);
