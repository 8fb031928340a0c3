import type { Analysis } from '#core/compare/types';
import { mean } from '#core/stats/moments';
import { write } from '#core/text/words';
import { marginFor } from '../choice';
import type { StudyFacts } from '../facts';
import { biasWords } from '../fanBias';
import { soundUnit, toldLevel, underFirstLoad } from '../sweeps';

/** One cooler as it was set. */
export interface SetCooler {
  name: string;
  position: number;
  /** mean over mounts, dB, as it is told */
  level: number;
  /** too close to the background noise to tell */
  at_most: boolean;
  rpm: number | null;
  mounts: number;
}

/** Coolers that were each run at one speed. */
export interface CoolersAsSet {
  coolers: SetCooler[];
  unit: string;
  /** were all within what matters of each other */
  alike: boolean;
  /** how they are held alike, or that they are not */
  words: string;
  /** which way each pair's difference is biased, where the levels differ */
  biases: string[];
}

/** Coolers with the noise that each was set to; null where fewer than two have a sound level. */
export function coolersAsSet(facts: StudyFacts, analysis: Analysis | null): CoolersAsSet | null {
  const counted = underFirstLoad(facts).filter((r) => r.mount_reason === null && r.run_reason === null && r.values.noise !== undefined);
  const coolers = facts.specimens.flatMap((s): SetCooler[] => {
    const own = counted.filter((r) => r.specimen === s.name);
    if (own.length === 0) return [];
    const perMount = (of: (r: (typeof own)[number]) => number | undefined) => {
      const means = [...new Set(own.map((r) => r.mount_id))].flatMap((id) => {
        const values = own.filter((r) => r.mount_id === id).flatMap((r) => of(r) ?? []);
        return values.length > 0 ? [mean(values)] : [];
      });
      return means.length > 0 ? mean(means) : null;
    };
    const level = perMount((r) => toldLevel(r.values.noise as number, facts.sound).level);
    return level === null
      ? []
      : [
          {
            ...{ name: s.name, position: s.position, level, mounts: new Set(own.map((r) => r.mount_id)).size },
            at_most: own.some((r) => toldLevel(r.values.noise as number, facts.sound).at_most),
            rpm: perMount((r) => r.values.fan_speed),
          },
        ];
  });
  if (coolers.length < 2) return null;
  const unit = soundUnit(facts.sound);
  const levels = coolers.map((c) => c.level);
  const [low, high] = [Math.min(...levels), Math.max(...levels)];
  const alike = high - low <= marginFor(facts, 'noise') && !coolers.some((c) => c.at_most);
  const range = low.toFixed(1) === high.toFixed(1) ? `${write(low, 1)} ${unit}` : `${write(low, 1)} to ${write(high, 1)} ${unit}`;
  const words = alike
    ? `As they were set, at ${range}`
    : coolers.some((c) => c.at_most)
      ? `Not comparable at equal noise: ${coolers
          .filter((c) => c.at_most)
          .map((c) => c.name)
          .join(', ')} too close to the background noise`
      : `Not at equal noise: ${range}`;
  return { coolers, unit, alike, words, biases: alike ? [] : biasesOf(facts, coolers, unit, analysis) };
}

function biasesOf(facts: StudyFacts, coolers: SetCooler[], unit: string, analysis: Analysis | null): string[] {
  const meanOf = (name: string) => analysis?.specimens.find((s) => s.specimen === name)?.mean ?? null;
  const base = coolers.find((c) => c.name === facts.reference) ?? coolers[0];
  return coolers.flatMap((c) => {
    const [own, other] = [meanOf(c.name), meanOf(base.name)];
    const louder = c.level - base.level;
    if (c === base || own === null || other === null || Math.abs(louder) <= marginFor(facts, 'noise')) return [];
    const side = louder > 0 ? 'louder' : 'quieter';
    return [`${c.name} was ${write(Math.abs(louder), 1)} ${unit} ${side} than ${base.name}: ${biasWords(other - own, louder > 0)}.`];
  });
}
