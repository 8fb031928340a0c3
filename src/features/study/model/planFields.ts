import { type FieldSpec, fieldsOf } from '#rules/fields';
import { check, RuleError } from '#rules/validation';
import { SpecimenPlan } from './specimenPlan';
import { StudyPlan } from './studyPlan';

/** The fields of a plan and of its specimens with their words, as plain data. */
export interface PlanFields {
  plan: FieldSpec[];
  specimen: FieldSpec[];
}

/** What a page needs to show the fields of a plan, so that it need not load their rules before anything is typed. */
export const planFields = (): PlanFields => ({ plan: fieldsOf(StudyPlan), specimen: fieldsOf(SpecimenPlan) });

/**
 * Sentence for a value that breaks the rule of its field; null where it keeps it.
 * @param field of the plan by its key, of a specimen as `specimen:7:mounts`
 */
export function planProblem(field: string, value: unknown): string | null {
  const of = /^specimen:\d+:(\w+)$/.exec(field);
  try {
    if (of) check(SpecimenPlan, { [of[1]]: value });
    else check(StudyPlan, { [field]: value });
    return null;
  } catch (error) {
    if (error instanceof RuleError) return error.sentences.join(' ');
    throw error;
  }
}
