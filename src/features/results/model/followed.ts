import type { RunFact } from './facts';

/** Runs of one mount this far apart show its age, s. */
const FOLLOWED_S = 3 * 86_400;

/** Was a mount measured over days, so that its runs are ages and no repeats? */
export function hasSeveralAges(runs: RunFact[]): boolean {
  const span = new Map<number, [number, number]>();
  for (const r of runs) {
    if (r.at_s == null || r.mount_reason !== null || r.run_reason !== null) continue;
    const [first, last] = span.get(r.mount_id) ?? [r.at_s, r.at_s];
    span.set(r.mount_id, [Math.min(first, r.at_s), Math.max(last, r.at_s)]);
  }
  return [...span.values()].some(([first, last]) => last - first >= FOLLOWED_S);
}
