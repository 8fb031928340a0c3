import { mean } from '#core/stats/moments';
import type { PartLimit } from '#core/thermal/limits/partLimits';
import { sensorsOf } from '#features/shelf/model/partSensors';
import type { RigPart } from '#features/shelf/model/rigParts';
import type { PartFigure, RunFact, StudyFacts } from './facts';

/**
 * Figures of the parts of a rig in one run; parts none of whose sensors was read are left out.
 * @param sensors rise of each sensor by its name, K
 * @param hottest whether a part is told by its hottest sensor instead of the mean of its sensors
 */
export function partFigures(parts: RigPart[], sensors: Record<string, number>, power_w: number | null, hottest: boolean): PartFigure[] {
  return parts.flatMap((p): PartFigure[] => {
    const own = sensorsOf(p).flatMap((s) => sensors[s] ?? []);
    if (own.length === 0) return [];
    const rise_k = hottest ? Math.max(...own) : mean(own);
    const share = p.share_pct ?? (parts.length === 1 ? 100 : null);
    const watts = power_w === null || share === null ? null : (power_w * share) / 100;
    return [{ part: p.name, rise_k, r_k_per_w: watts !== null && watts > 0 ? rise_k / watts : null }];
  });
}

/** Parts that some run of the study has a figure of, in the order they were first met. */
export const partNames = ({ runs }: Pick<StudyFacts, 'runs'>): string[] => [
  ...new Set(runs.flatMap((r) => (r.parts ?? []).map((p) => p.part))),
];

/** Limits of the parts of a rig. */
export const limitsOfParts = (parts: RigPart[]): PartLimit[] =>
  parts.flatMap((p) => {
    const sensors = sensorsOf(p);
    return p.limit_c == null || sensors.length === 0 ? [] : [{ part: p.name, sensors, limit_c: p.limit_c }];
  });

/** Power that goes into a part, W, by its rise and resistance; null where it is not known. */
export function powerOfPart(runs: RunFact[], part: string): number | null {
  const watts = runs.flatMap((r) => {
    const own = r.parts?.find((p) => p.part === part);
    return own?.r_k_per_w ? [own.rise_k / own.r_k_per_w] : [];
  });
  return watts.length === 0 ? null : mean(watts);
}
