import type { OutcomeKey } from '#core/compare/outcomes';
import type { Analysis, Finding } from '#core/compare/types';
import type { StudyFacts } from './facts';
import { hasSeveralAges } from './followed';
import { hasSeveralSpeeds } from './sweeps';

/** Outcomes that change with the fan's speed. */
const OVER_SPEEDS = new Set<OutcomeKey>(['rise', 'r_k_per_w', 'rise_at_power', 'noise', 'fan_speed', 'spread']);

const SEVERAL_SPEEDS: Finding = {
  code: 'several_speeds',
  severity: 'warn',
  message:
    'Mounts were run at several fan speeds, and a mount’s value here is the mean over them: it compares coolers at equal speeds on average. Comparisons at equal noise, speed or temperature are under Coolers.',
};

const SEVERAL_AGES: Finding = {
  code: 'several_ages',
  severity: 'warn',
  message: 'Mounts were measured over days, and a mount’s value here is the mean over its ages. The change over time is under Ageing.',
};

/** What makes the runs of a mount unlike, so that its value is a mean over unlike things: fan speeds, ages. */
export const mixedRuns = ({ runs }: StudyFacts, outcome: OutcomeKey): Finding[] => [
  ...(OVER_SPEEDS.has(outcome) && hasSeveralSpeeds(runs) ? [SEVERAL_SPEEDS] : []),
  ...(hasSeveralAges(runs) ? [SEVERAL_AGES] : []),
];

/** Why the runs of a mount are no repeats of each other; null where they are. */
export function whyNoRepeats({ findings }: Pick<Analysis, 'findings'>): string | null {
  const codes = new Set(findings.map((f) => f.code));
  return codes.has(SEVERAL_SPEEDS.code)
    ? 'no repeats: several fan speeds'
    : codes.has(SEVERAL_AGES.code)
      ? 'no repeats: several ages'
      : null;
}
