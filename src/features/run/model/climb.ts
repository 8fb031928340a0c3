import { IsUUID } from 'class-validator';
import type { StepEnd } from '#core/stability/ladder';
import type { LadderStep } from '#features/study/model/loads';
import { Amount, Id, ListOf, Maybe, Text } from '#rules/rules';
import { TypedStep } from './typedRun';

/** A step by its clock and voltage alone. */
class StepKey {
  @Amount(1, 100_000, 'A ladder step has a clock between 1 and 100000 MHz.')
  clock_mhz!: number;

  @Maybe(Amount(0, 100, 'The voltage of a ladder step lies between 0 and 100 V.'))
  voltage_v?: number | null;
}

/** Steps of a ladder as they are entered while one tests: those that were tried, and those that are taken back. */
export class ClimbEntry {
  @Text(1, 60, 'A load has a name of 1 to 60 characters.')
  load!: string;

  /** the climb they belong to; absent where it begins with them */
  @Maybe(Id())
  run_id?: number | null;

  /** makes repeating a beginning harmless */
  @IsUUID()
  import_id!: string;

  @ListOf(() => TypedStep, 200, 'Up to 200 steps of a ladder are entered at once, each with its clock and how it ended.')
  steps!: TypedStep[];

  @Maybe(ListOf(() => StepKey, 200, 'Up to 200 steps are deleted at once.'))
  taken_back?: StepKey[];
}

/** Are two steps the same clock at the same voltage? */
export const isSameStep = (a: LadderStep, b: LadderStep): boolean =>
  a.clock_mhz === b.clock_mhz && (a.voltage_v ?? null) === (b.voltage_v ?? null);

/** The steps of a climb with what was entered: a step entered again takes the place of the one before. */
export function withSteps(known: TypedStep[], entered: TypedStep[], takenBack: LadderStep[] = []): TypedStep[] {
  const isGone = (s: TypedStep) => [...entered, ...takenBack].some((o) => isSameStep(o, s));
  const last = entered.filter((s, i) => !entered.slice(i + 1).some((o) => isSameStep(o, s)));
  return [...known.filter((s) => !isGone(s)), ...last];
}

/**
 * The step to try next: the first of the plan that was not tried and lies below no step that failed at its voltage; null where the ladder
 * is climbed.
 */
export function nextStep(plan: LadderStep[], tried: (LadderStep & { end: StepEnd })[]): LadderStep | null {
  const isOver = (s: LadderStep) =>
    tried.some((t) => t.end !== 'passed' && (t.voltage_v ?? null) === (s.voltage_v ?? null) && t.clock_mhz <= s.clock_mhz);
  return plan.find((s) => !tried.some((t) => isSameStep(t, s)) && !isOver(s)) ?? null;
}
