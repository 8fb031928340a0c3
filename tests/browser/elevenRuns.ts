import { NORTH_BENCH } from '#simulator/rigs';
import { simulateRun } from '#simulator/simulateRun';
import { writeLog } from '#simulator/writeLog';
import { base } from '../simulatedLog.ts';

export interface Log {
  name: string;
  bytes: Uint8Array;
}

/** Eleven runs of three things on two mounts each, an hour apart. */
export function elevenRuns(nameOf: (thing: string, mount: number, run: number, index: number) => string, start = 1780300800): Log[] {
  const logs: Log[] = [];
  for (const [thing, interface_k_per_w] of [
    ['amber_nine', 0.06],
    ['birch_two', 0.078],
    ['cedar', 0.1],
  ] as const)
    for (const mount of [1, 2])
      for (const run of [1, 2]) {
        const seed = logs.length + 1;
        if (seed > 11) continue;
        const course = simulateRun(NORTH_BENCH, {
          ...{ ...base, idle_s: 120, load_s: 900, cooldown_s: 60, seed },
          interface_k_per_w: interface_k_per_w + 0.002 * mount,
        });
        const text = writeLog(course, start + 3600 * seed);
        logs.push({ name: nameOf(thing, mount, run, seed), bytes: new TextEncoder().encode(text) });
      }
  return logs;
}
