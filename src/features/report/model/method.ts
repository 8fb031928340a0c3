import type { ReduceOptions } from '#core/signal/reduce/types';
import { REDUCE_DEFAULTS } from '#core/signal/reduce/types';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import { StudyPlan } from '#features/study/model/studyPlan';
import { fieldsOf } from '#rules/fields';

const GROUPS = new Set(['Statistics', 'Method', 'Acceptance', 'Sound']);
const READING: Partial<Record<keyof ReduceOptions, string>> = {
  window_s: 'Averaging window / s',
  slope_k_per_min: 'Steady where slope and its uncertainty stay within / K/min',
  power_w: 'Power set-point / W',
  fan_rpm: 'Fan set-point / rpm',
  clock_mhz: 'Clock set-point / MHz',
  power_tolerance: 'Power tolerance, as a share',
  fan_tolerance: 'Fan tolerance, as a share',
};

/** A setting as it is read: numbers to four digits, as one sets them. */
const plain = (value: unknown): string => (typeof value === 'number' ? String(Number(value.toPrecision(4))) : String(value));

/** Every setting of a study as it was used, those that stand by default marked so; what was not used is left out. */
export function methodLines(plan: StudyPlan, reduction: Partial<ReduceOptions>): { what: string; value: string }[] {
  const said = plan as Record<string, unknown>;
  const defaults = PLAN_DEFAULTS as Record<string, unknown>;
  const ofPlan = fieldsOf(StudyPlan)
    .filter((f) => GROUPS.has(f.group))
    .flatMap((f) => {
      const own = said[f.key];
      const value = own ?? defaults[f.key];
      // what is neither set nor has a default was not used
      if (value === undefined || value === null) return [];
      const words = f.choices?.[String(value)] ?? plain(value);
      return { what: f.unit ? `${f.label} / ${f.unit}` : f.label, value: own == null ? `${words} (by default)` : words };
    });
  const reading = { ...REDUCE_DEFAULTS, ...reduction };
  const ofReading = (Object.entries(READING) as [keyof ReduceOptions, string][]).flatMap(([key, what]) =>
    reading[key] == null ? [] : { what, value: plain(reading[key]) },
  );
  return [...ofPlan, ...ofReading];
}
