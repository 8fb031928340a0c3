import 'reflect-metadata';
import { Type } from 'class-transformer';
import { IsIn, IsNumber, IsOptional, IsString, Length, Max, MaxLength, Min, ValidateIf, ValidateNested } from 'class-validator';

/** What a person can decide about a run, in the words of its history. */
const JUDGEMENTS = {
  accept: 'Accepted',
  exclude: 'Excluded',
  reopen: 'Opened again',
  window: 'Window set by hand',
  automatic: 'Back to the automatic window',
} as const;
export type JudgementAction = keyof typeof JUDGEMENTS;

/** A change of a run in the words of its history. */
export function judgementWords(action: string): string {
  return action === 'decide' ? 'Decided' : (JUDGEMENTS[action as JudgementAction] ?? action);
}

/** Shortest window that is judged, s. */
export const LEAST_WINDOW_S = 10;

class HandWindow {
  @IsNumber({}, { message: 'A window begins and ends at a number of seconds.' })
  start_s!: number;

  @IsNumber({}, { message: 'A window begins and ends at a number of seconds.' })
  end_s!: number;
}

/** A judgement as it is sent. */
export class Judgement {
  @IsIn(Object.keys(JUDGEMENTS), { message: `A judgement is one of ${Object.keys(JUDGEMENTS).join(', ')}.` })
  action!: JudgementAction;

  @ValidateIf((j: Judgement) => j.action === 'exclude' || j.reason !== undefined)
  @IsString({ message: 'Say in 1 to 500 characters why the run is excluded: it stays in the record.' })
  @Length(1, 500, { message: 'Say in 1 to 500 characters why the run is excluded: it stays in the record.' })
  reason?: string;

  @ValidateIf((j: Judgement) => j.action === 'window')
  @ValidateNested()
  @Type(() => HandWindow)
  window?: HandWindow;

  @IsOptional()
  @IsString({ message: 'Initials are a text.' })
  @MaxLength(20, { message: 'Initials hold up to 20 characters.' })
  who?: string;
}

/** A note pinned to a time of a run. */
export class RunNote {
  @IsNumber({}, { message: 'A note is pinned to a number of seconds.' })
  @Min(0, { message: 'A note is pinned to a time of the run.' })
  @Max(1e9, { message: 'A note is pinned to a time of the run.' })
  at_s!: number;

  @IsString({ message: 'A note has 1 to 500 characters.' })
  @Length(1, 500, { message: 'A note has 1 to 500 characters.' })
  text!: string;

  @IsOptional()
  @IsString({ message: 'Initials are a text.' })
  @MaxLength(20, { message: 'Initials hold up to 20 characters.' })
  who?: string;
}

/**
 * What is wrong with a window set by hand; null where it can be judged.
 * @param stages of the run; the window lies within its sustained load
 */
export function windowProblem(
  window: { start_s: number; end_s: number },
  stages: { stage: string; start_s: number; end_s: number }[],
): string | null {
  const load = stages.find((s) => s.stage === 'sustained');
  if (!load) return 'This run has no sustained load in which a window could lie.';
  if (!(window.end_s - window.start_s >= LEAST_WINDOW_S)) return `A window is at least ${LEAST_WINDOW_S} s long.`;
  if (window.start_s < load.start_s - 1e-6 || window.end_s > load.end_s + 1e-6) {
    return `The window should lie within the load, ${Math.round(load.start_s)} to ${Math.round(load.end_s)} s.`;
  }
  return null;
}
