import { Amount, If, Maybe, Nested, OneOf, Text } from '#rules/rules';

/** What a person can decide about a run, in the words of its history. */
const JUDGEMENTS = {
  accept: 'Accepted',
  exclude: 'Excluded',
  reopen: 'Opened again',
  window: 'Window set by hand',
  automatic: 'Back to the automatic window',
} as const;
export type JudgementAction = keyof typeof JUDGEMENTS;

/** What befalls a run besides. */
const OTHERS: Record<string, string> = { decide: 'Decided', correct: 'Readings corrected', reread: 'Read again', move: 'Moved' };

/** A change of a run in the words of its history. */
export const judgementWords = (action: string): string => OTHERS[action] ?? JUDGEMENTS[action as JudgementAction] ?? action;

/** Shortest window that is judged, s. */
export const LEAST_WINDOW_S = 10;

class HandWindow {
  @Amount(-1e9, 1e9, 'A window begins and ends at a number of seconds.')
  start_s!: number;

  @Amount(-1e9, 1e9, 'A window begins and ends at a number of seconds.')
  end_s!: number;
}

/** A judgement as it is sent. */
export class Judgement {
  @OneOf(Object.keys(JUDGEMENTS), `A judgement is one of ${Object.keys(JUDGEMENTS).join(', ')}.`)
  action!: JudgementAction;

  @If(
    (j: Judgement) => j.action === 'exclude' || j.reason !== undefined,
    Text(1, 500, 'Say in 1 to 500 characters why the run is excluded: it stays in the record.'),
  )
  reason?: string;

  @If(
    (j: Judgement) => j.action === 'window',
    Nested(() => HandWindow),
  )
  window?: HandWindow;

  @Maybe(Text(0, 20, 'Initials hold up to 20 characters.'))
  who?: string;
}

/** A note pinned to a time of a run. */
export class RunNote {
  @Amount(0, 1e9, 'A note is pinned to a time of the run.')
  at_s!: number;

  @Text(1, 500, 'A note has 1 to 500 characters.')
  text!: string;

  @Maybe(Text(0, 20, 'Initials hold up to 20 characters.'))
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
  if (window.start_s < load.start_s - 1e-6 || window.end_s > load.end_s + 1e-6)
    return `The window should lie within the load, ${Math.round(load.start_s)} to ${Math.round(load.end_s)} s.`;
  return null;
}
