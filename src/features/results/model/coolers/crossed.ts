import { type Effect, type FactorCell, factorialEffects } from '#core/compare/factorial';
import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import type { SharedError } from '#core/compare/types';
import { mean } from '#core/stats/moments';
import { write, writeMargin } from '#core/text/words';
import type { StudyFacts } from '../facts';

/** One combination of a heatsink with a fan, or of any two factors' levels. */
interface CrossedCell {
  a: string;
  b: string;
  specimen: string;
  mean: number | null;
  mounts: number;
}

/** What each of two crossed factors accounts for. */
export interface Crossed {
  outcome: OutcomeKey;
  names: [string, string];
  a_levels: string[];
  b_levels: string[];
  cells: CrossedCell[];
  effects: { effect: Effect; sentence: string }[];
  /** why nothing is told, as a sentence; empty where it is */
  missing: string;
}

const NAMES: Record<string, string> = {
  cooler: 'heatsink',
  fan: 'fan',
  material: 'material',
  amount: 'amount',
  torque: 'pressure',
  surface: 'surface',
  state: 'state',
  setting: 'setting',
};

/**
 * Effects of a crossed study.
 * @param values value of each mount, by specimen
 * @param shared error that the mounts of a specimen share, by specimen
 */
export function crossedEffects(
  facts: StudyFacts,
  values: Map<string, number[]>,
  shared: Record<string, SharedError>,
  outcome: OutcomeKey,
  margin: number,
): Crossed | null {
  if (facts.design !== 'two_by_two' || facts.factors[1] === null) return null;
  const [first, second] = facts.factors;
  const names: [string, string] = [NAMES[first] ?? first, NAMES[second] ?? second];
  const cells = facts.specimens.flatMap((s): (FactorCell & { specimen: string })[] =>
    s.levels ? [{ a: s.levels[0], b: s.levels[1], specimen: s.name, values: values.get(s.name) ?? [], shared: shared[s.name] }] : [],
  );
  const levels = (of: (c: FactorCell) => string) => [...new Set(cells.map(of))];
  const scatter = Math.min(...cells.map((c) => c.values.length)) < 4 ? 'pooled' : 'separate';
  const effects = factorialEffects(cells, { confidence: facts.confidence, scatter });
  const open = cells.filter((c) => c.values.length === 0).map((c) => c.specimen);
  return {
    ...{ outcome, names, a_levels: levels((c) => c.a), b_levels: levels((c) => c.b) },
    cells: cells.map((c) => ({
      a: c.a,
      b: c.b,
      specimen: c.specimen,
      mean: c.values.length === 0 ? null : mean(c.values),
      mounts: c.values.length,
    })),
    effects: (effects ?? []).map((effect) => ({
      effect,
      sentence: effectSentence(effect, names, { outcome, margin, confidence: facts.confidence }),
    })),
    missing: effects
      ? ''
      : open.length > 0
        ? `Not measured yet: ${open.join(', ')}. The shares of ${names[0]} and ${names[1]} are given once every combination is.`
        : `Each combination of ${names[0]} and ${names[1]} needs its two levels named, and one of them two mounts.`,
  };
}

interface EffectWords {
  outcome: OutcomeKey;
  margin: number;
  confidence: number;
}

/** An effect in plain words: how much a factor accounts for, or how much the one depends on the other. */
function effectSentence(effect: Effect, [a, b]: [string, string], { outcome, margin, confidence }: EffectWords): string {
  const { unit, digits, better, verb, than } = OUTCOMES[outcome];
  const percent = Number((100 * confidence).toFixed(1));
  const size = Math.abs(effect.value);
  const turned = effect.value < 0 ? [-effect.ci[1], -effect.ci[0]] : effect.ci;
  const interval = `${percent} % ${write(turned[0], digits)} to ${write(turned[1], digits)}`;
  const amount = `${write(size, digits)} ${unit}`;
  const tells = effect.ci[0] > 0 || effect.ci[1] < 0;
  if (effect.kind === 'interaction') {
    const within = Math.max(Math.abs(effect.ci[0]), Math.abs(effect.ci[1])) < margin;
    if (!tells)
      return within
        ? `What the ${a} gains does not depend on the ${b}, within ${writeMargin(margin)} ${unit}: it changes by ${amount} (${interval}).`
        : `Whether the gain by the ${a} depends on the ${b} is not settled: it changes by ${amount} (${interval}).`;
    return `What the ${a} gains depends on the ${b}: from ${effect.over?.[0]} to ${effect.over?.[1]} it changes by ${amount} (${interval}).`;
  }
  const [factor, other] = effect.kind === 'a' ? [a, b] : [b, a];
  if (!tells)
    return `The ${factor} accounts for ${amount} at most uncertainly (${interval}): ${effect.levels[0]} and ${effect.levels[1]} are not distinguishable.`;
  const lower = better === 'lower' ? effect.value < 0 : effect.value > 0;
  const [best, worse] = lower ? effect.levels : [effect.levels[1], effect.levels[0]];
  return `The ${factor} accounts for ${amount} (${interval}): ${best} ${verb} that much ${than} ${worse}, taken over the ${other}s.`;
}
