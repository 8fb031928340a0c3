import type { RunFact } from '#features/results/model/facts';

const DAY_S = 86_400;

/** Runs of a study that is followed over time as far as they belong to its first age; all of them where no ages are planned. */
export function freshRuns<Run extends Pick<RunFact, 'mount_id' | 'at_s'>>(runs: Run[], ages: number[]): Run[] {
  if (ages.length < 2) return runs;
  const first = new Map<number, number>();
  for (const { mount_id, at_s } of runs) if (at_s != null) first.set(mount_id, Math.min(at_s, first.get(mount_id) ?? at_s));
  const middle = (ages[0] + ages[1]) / 2 - ages[0];
  return runs.filter((r) => {
    const began = first.get(r.mount_id);
    return r.at_s == null || began === undefined || (r.at_s - began) / DAY_S < middle;
  });
}
