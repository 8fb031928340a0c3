import { OUTCOMES } from '#core/compare/outcomes';
import type { SharedError } from '#core/compare/types';
import {
  clocksOfSeveralVoltages,
  highestClock,
  ladderVoltages,
  lowestVoltage,
  meanClock,
  type Reached,
  type TriedStep,
} from '#core/stability/ladder';
import { median } from '#core/stats/quantiles';
import type { ResultsChoice, RunFact, StudyFacts } from './facts';

/** Outcomes that are read from a ladder of steps. */
export type LadderOutcome = 'highest_clock' | 'lowest_voltage';
export const isOfLadder = (outcome: ResultsChoice['outcome']): outcome is LadderOutcome =>
  outcome === 'highest_clock' || outcome === 'lowest_voltage';

/** The step of a ladder is known exactly, so its error has as many degrees of freedom as make no difference. */
const KNOWN_DF = 10_000;

const triedIn = (runs: Pick<RunFact, 'ladder'>[]): TriedStep[] => runs.flatMap((r) => r.ladder ?? []);

/** At what an outcome of a ladder can be told: voltages in V, clocks in MHz, or the mean over the voltages that every mount was tried at. */
export function ladderLevels({ runs }: Pick<StudyFacts, 'runs'>, outcome: LadderOutcome): (number | 'mean')[] {
  const steps = triedIn(runs);
  if (outcome === 'lowest_voltage') return clocksOfSeveralVoltages(steps);
  const voltages = ladderVoltages(steps).filter((v) => v !== null);
  return commonVoltages(runs).length > 1 ? [...voltages, 'mean'] : voltages;
}

/** Where a ladder is looked at first: the level that most runs were tried at, of several the highest; null where the voltage was left. */
export function ladderLevel(facts: Pick<StudyFacts, 'runs'>, outcome: LadderOutcome): number | 'mean' | null {
  const triedAt = (at: number | 'mean') => facts.runs.filter((r) => r.ladder && reached(r.ladder, outcome, at, [])).length;
  const levels = ladderLevels(facts, outcome).filter((l) => l !== 'mean');
  return levels.reduce<number | null>((best, at) => (best === null || triedAt(at) >= triedAt(best) ? at : best), null);
}

/** How far each run came on its ladder under a choice. */
export function ladderReader(
  runs: Pick<RunFact, 'ladder'>[],
  { outcome, at }: Pick<ResultsChoice, 'outcome' | 'at'>,
): (run: Pick<RunFact, 'ladder'>) => Reached | null {
  const common = at === 'mean' ? commonVoltages(runs) : [];
  return ({ ladder }) => (ladder && isOfLadder(outcome) ? reached(ladder, outcome, at ?? null, common) : null);
}

function reached(steps: TriedStep[], outcome: LadderOutcome, at: number | 'mean' | null, common: number[]): Reached | null {
  if (outcome === 'lowest_voltage') return typeof at === 'number' ? lowestVoltage(steps, at) : null;
  return at === 'mean' ? meanClock(steps, common) : highestClock(steps, at);
}

/** Voltages that every ladder was tried at, V. */
function commonVoltages(runs: Pick<RunFact, 'ladder'>[]): number[] {
  const tried = runs.flatMap((r) => (r.ladder ? [new Set(ladderVoltages(r.ladder))] : []));
  const [first] = tried;
  return first ? [...first].filter((v) => v !== null && tried.every((t) => t.has(v))).filter((v) => v !== null) : [];
}

/**
 * Error of the steps themselves, which all mounts of a specimen share: a clock lies anywhere between the step that passed and the next
 * (uniform, method §9).
 */
export function stepErrors(facts: Pick<StudyFacts, 'runs'>, choice: Pick<ResultsChoice, 'outcome' | 'at'>): Record<string, SharedError> {
  if (!isOfLadder(choice.outcome)) return {};
  const read = ladderReader(facts.runs, choice);
  const steps = new Map<string, number[]>();
  for (const r of facts.runs) {
    const { step } = read(r) ?? {};
    if (step) steps.set(r.specimen, [...(steps.get(r.specimen) ?? []), step]);
  }
  return Object.fromEntries([...steps].map(([name, all]) => [name, { se: median(all) / Math.sqrt(12), df: KNOWN_DF }]));
}

/** A level in words: "0.95 V", "2100 MHz", "the mean over all voltages". */
export const levelWords = (outcome: LadderOutcome, at: number | 'mean'): string =>
  at === 'mean'
    ? 'Mean over the voltages'
    : `${at} ${outcome === 'highest_clock' ? OUTCOMES.lowest_voltage.unit : OUTCOMES.highest_clock.unit}`;
