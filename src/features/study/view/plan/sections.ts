import type { PlanFields } from '#features/study/model/planFields';

/** Sections by the group of a field. */
const BY_GROUP: Record<string, string> = {
  Question: 'question',
  Statistics: 'power',
  Method: 'methods',
  Acceptance: 'acceptance',
  Bench: 'bench',
  Rehearsal: 'rehearsal',
  Headroom: 'headroom',
  Cost: 'cost',
  Ageing: 'ageing',
  Fit: 'fit',
  Limits: 'limits',
  Sound: 'sound',
};

/** Fields that stand elsewhere than their group. */
const OWN: Record<string, string> = {
  specimens: 'compared',
  reference_id: 'compared',
  margin_k: 'mounts',
  mounts: 'mounts',
  runs: 'bench',
  start_time: 'bench',
  weekdays: 'bench',
  order: 'schedule',
  held: 'conditions',
  loads: 'loads',
  outcomes: 'outcomes',
  looks: 'interim',
  warmest_c: 'headroom',
};

/** Address of the section of the plan in which a field is set; null where none is. */
export const sectionOf = (field: string, fields: PlanFields): string | null =>
  OWN[field] ?? (/^specimen:/.test(field) ? 'expected' : (BY_GROUP[fields.plan.find((f) => f.key === field)?.group ?? ''] ?? null));
