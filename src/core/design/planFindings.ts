import { writeMargin } from '#core/text/words';
import { curvePoint, mountsForMargin, pairsOfFamily, schoolFor } from './mountsCurve';
import type { PlanFinding, PlannedComparison } from './types';

/** Findings of the planned comparison alone: too few mounts, a margin out of reach, a school at its limit. */
export function comparisonFindings(plan: PlannedComparison, mounts: number): PlanFinding[] {
  const findings: PlanFinding[] = [];
  if (plan.specimens < 2) return findings;
  if (mounts < 2) {
    const message =
      'With one mount of each, a difference cannot be separated from the scatter between mounts; more runs on one mount do not replace remounts.';
    return [
      { code: 'one_mount', severity: 'warn', field: 'mounts', message, nearest: 'At least two mounts of each; three or more are better.' },
    ];
  }
  const { unit = 'K' } = plan;
  const point = curvePoint(plan, mounts);
  if (point.detectable_k > plan.margin) {
    const needed = mountsForMargin(plan);
    findings.push({
      code: 'margin_out_of_reach',
      severity: 'warn',
      field: 'mounts',
      message: `${mounts} mounts each find ${point.detectable_k.toFixed(unit === 'K' ? 1 : 2)} ${unit} with ${Math.round(100 * plan.power)} % chance, more than the ${writeMargin(plan.margin)} ${unit} that matter.`,
      nearest: needed
        ? `${needed.n} mounts each find ${writeMargin(plan.margin)} ${unit}.`
        : `No practical number of mounts finds ${writeMargin(plan.margin)} ${unit}; a wider margin or a steadier mount would help.`,
      numbers: { detectable_k: point.detectable_k, mounts_needed: needed?.n ?? null },
    });
  }
  if (schoolFor(mounts, plan) === 'separate' && mounts < 8 && plan.family === 'all' && pairsOfFamily(plan.specimens, 'all') >= 10) {
    findings.push({
      code: 'separate_liberal',
      severity: 'note',
      field: 'scatter',
      message: `With ${mounts} mounts of ${plan.specimens} specimens, intervals on each specimen's own scatter give false calls somewhat more often than stated (7 % instead of 5 % for eight specimens with four or five mounts); a verdict is firm only where the pooled method agrees. The rehearsal shows the rate of this plan.`,
      nearest: 'The strict method, pooled scatter where all scatter equally, or eight mounts of each.',
    });
  }
  return findings;
}
