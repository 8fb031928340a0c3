import type { PlanContext } from '#features/study/model/context';
import type { PlanFields } from '#features/study/model/planFields';

const OTHERS: Record<string, string> = {
  order: 'the order of the mounts',
  specimens: 'what is compared',
  start_time: 'Day begins at',
  weekdays: 'Working days',
  looks: 'Interim analyses',
  held: 'Controlled conditions',
  loads: 'Loads',
  outcomes: 'Outcomes',
};

/** Name of a plan's field as a person reads it. */
export function fieldName(field: string, context: PlanContext, fields: PlanFields): string {
  const of = /^specimen:(\d+):(\w+)$/.exec(field);
  if (!of) return fields.plan.find((f) => f.key === field)?.label ?? OTHERS[field] ?? field;
  const specimen = context.specimens.find((s) => s.id === Number(of[1]))?.name ?? 'a specimen';
  return `${fields.specimen.find((f) => f.key === of[2])?.label ?? of[2]} of ${specimen}`;
}
