import type { AttemptOutcome } from './attempt';

interface FailureCauseFacts {
  name: string;
  /** what one usually sees of it */
  seen: string;
  /** what to do now */
  next: string;
  /** ends of a try that it usually stands behind */
  ends: AttemptOutcome[];
}

/** Why an application failed, with what is usually seen of it and what to do next. */
export const FAILURE_CAUSES = {
  too_little: {
    name: 'Too little material',
    seen: 'Too hot from the first run on; the imprint leaves corners bare.',
    next: 'Photograph the imprint, then apply more, by the dose.',
    ends: ['too_hot', 'spread'],
  },
  too_much: {
    name: 'Too much material',
    seen: 'Warmer than the others and slow to settle; a thick rim is squeezed out.',
    next: 'Weigh the tube before and after, and apply less, by the dose.',
    ends: ['too_hot', 'leaked'],
  },
  tilted: {
    name: 'Cooler tilted',
    seen: 'One corner or sensor is much hotter; the imprint is a wedge.',
    next: 'Clean, apply again, and tighten crosswise in rounds from the first turn on.',
    ends: ['tilted', 'spread', 'too_hot'],
  },
  not_seated: {
    name: 'Cooler not seated',
    seen: 'At its limit within seconds, or no start; the imprint hardly touches.',
    next: 'Look for what holds it off: a cable, a stand-off, a pad that is too thick. The gap table finds the pad.',
    ends: ['too_hot', 'no_start'],
  },
  wrong_order: {
    name: 'Tightened in the wrong order',
    seen: 'The spread between sensors is wide, and wider than with the mounts before.',
    next: 'Clean, apply again, and follow the order of the screws in several rounds.',
    ends: ['spread', 'tilted'],
  },
  too_tight: {
    name: 'Too tight',
    seen: 'It does not start, or memory or a device is missing.',
    next: 'Loosen to the torque of the rig and start again; a bent board may need rest.',
    ends: ['no_start', 'part_missing'],
  },
  too_loose: {
    name: 'Too loose',
    seen: 'A wide spread between sensors, a hot corner, faults of memory.',
    next: 'Tighten crosswise to the torque of the rig; measure the clip or spring where there is one.',
    ends: ['spread', 'part_missing', 'too_hot'],
  },
  liner_left: {
    name: 'Liner or film left on',
    seen: 'Far too hot with a sheet or a new cooler.',
    next: 'Take off both liners and the film of the base; use a fresh sheet.',
    ends: ['too_hot'],
  },
  contaminated: {
    name: 'Lint, hair or old material between',
    seen: 'Warmer than the others; a mark in the imprint.',
    next: 'Clean both faces again and look at them in slanting light.',
    ends: ['too_hot', 'spread'],
  },
  unknown: {
    name: 'Not known',
    seen: 'Nothing that was seen explains it.',
    next: 'Photograph both faces before they are cleaned, and write down what you see.',
    ends: [],
  },
} as const satisfies Record<string, FailureCauseFacts>;
export type FailureCause = keyof typeof FAILURE_CAUSES;

export const isFailureCause = (value: unknown): value is FailureCause => typeof value === 'string' && Object.hasOwn(FAILURE_CAUSES, value);

/** The causes, those that usually stand behind an end first. */
export function causesFor(end: AttemptOutcome): FailureCause[] {
  const all = Object.keys(FAILURE_CAUSES) as FailureCause[];
  const usual = (c: FailureCause) => (FAILURE_CAUSES[c].ends as readonly string[]).includes(end);
  return [...all.filter(usual), ...all.filter((c) => !usual(c))];
}

/** What was added to a cause in the reason that is kept. */
export const failureNote = (cause: FailureCause, reason: string): string =>
  reason.slice(FAILURE_CAUSES[cause].name.length).replace(/^: /, '');

/** The reason that is kept and printed: the cause, and what was added to it. */
export const failureWords = (cause: FailureCause, note: string): string =>
  note === '' || note === FAILURE_CAUSES[cause].name ? FAILURE_CAUSES[cause].name : `${FAILURE_CAUSES[cause].name}: ${note}`;
