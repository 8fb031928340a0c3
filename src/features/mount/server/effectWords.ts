import type { WithinGroups } from '#core/stats/withinGroups';
import { writeSigned } from '#core/text/words';

/** How the cover of prints goes with the mounts' values, in a sentence that does not claim more than it knows. */
export function effectWords({ slope, low, high, r, n }: WithinGroups): string {
  // of ten points less cover
  const [k, from, to] = [-10 * slope, -10 * high, -10 * low];
  const interval = `95 % ${writeSigned(from, 1)} to ${writeSigned(to, 1)}; r ${writeSigned(r, 2)}, ${n} mounts`;
  return from <= 0 && to >= 0
    ? `Within each material, coverage and ΔT are not correlated beyond chance: 10 points less coverage came with ${writeSigned(k, 1)} K (${interval}).`
    : `Within each material, 10 points less coverage came with ${writeSigned(k, 1)} K (${interval}). They are correlated; that does not show that one causes the other.`;
}
