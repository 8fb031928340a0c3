import { fieldsOf } from '#domain/fields';
import type { PlanContext } from '#domain/plan/context';
import { SpecimenPlan } from '#domain/plan/specimenPlan';
import { StudyPlan } from '#domain/plan/studyPlan';

const OTHERS: Record<string, string> = {
  order: 'the order of the mounts',
  specimens: 'the specimens',
  start_time: 'Day begins at',
  weekdays: 'Working days',
  looks: 'Looks',
  held: 'What is held',
  loads: 'Loads',
  outcomes: 'Outcomes',
};

/** Name of a plan's field as a person reads it. */
export function fieldName(field: string, context: PlanContext): string {
  const of = /^specimen:(\d+):(\w+)$/.exec(field);
  if (!of) return fieldsOf(StudyPlan).find((f) => f.key === field)?.label ?? OTHERS[field] ?? field;
  const specimen = context.specimens.find((s) => s.id === Number(of[1]))?.name ?? 'a specimen';
  return `${fieldsOf(SpecimenPlan).find((f) => f.key === of[2])?.label ?? of[2]} of ${specimen}`;
}
