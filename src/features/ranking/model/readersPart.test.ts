import { describe, expect, it } from 'vitest';
import { partCautions, partProblem, partSentence } from './readersPart';

const told = (difference: number, shown95: [number, number] | null) => ({
  ...{ a: 'W', b: 'L', difference, se: 1, ci95: [0, 0] as [number, number], prediction95: null, shared_setups: 1, shown95 },
});
const part = { power_w: 95, area_mm2: 180, contact: 'die' as const, pressure: null };
const measured = (area_mm2: number | null, pressure: 'light' | 'firm' | null = null, contact: 'lid' | 'die' | null = 'lid') => [
  { area_mm2, pressure, contact },
];

describe('a reader’s part', () => {
  it('sees the difference in a sentence, with the interval of a set-up not measured', () => {
    expect(partSentence(part, told(-4, [-7.4, -0.8]), 'Wick 60', 'Loam White')).toBe(
      'On 95 W over 180 mm² Wick 60 would run 2.1 K cooler than Loam White, 0.4 to 3.9 K in a set-up like these.',
    );
    expect(partSentence(part, told(4, [0.8, 7.4]), 'A', 'B')).toContain('2.1 K warmer than B, 0.4 to 3.9 K');
    expect(partSentence(part, told(-1, [-4, 2]), 'A', 'B')).toContain(
      '0.5 K cooler than B, between 1.1 K warmer and 2.1 K cooler in a set-up like these',
    );
    expect(partSentence(part, told(1, [-2, 4]), 'A', 'B')).toContain('between 1.1 K cooler and 2.1 K warmer');
    expect(partSentence(part, told(-1, null), 'A', 'B')).toContain('how far another set-up would differ cannot be said yet');
  });

  it('is refused beyond a factor of three of the areas, not at it', () => {
    const area = (area_mm2: number) => partProblem({ area_mm2, pressure: null }, [...measured(300), ...measured(900)]);
    expect([area(100), area(2700)]).toEqual([null, null]);
    expect(area(99)).toContain('100 to 2700 mm²');
    expect(area(2701)).toContain('outside');
    expect(partProblem({ area_mm2: 300, pressure: null }, measured(null))).toContain('No set-up states');
  });

  it('is refused two pressure classes away, and not one', () => {
    const at = (pressure: 'slight' | 'light' | 'medium' | 'firm' | 'hard') =>
      partProblem({ area_mm2: 300, pressure }, measured(300, 'light'));
    expect([at('slight'), at('light'), at('medium')]).toEqual([null, null, null]);
    expect(at('firm')).toContain('300 to 1000 kPa was not measured');
    expect(partProblem({ area_mm2: 300, pressure: 'hard' }, measured(300, null))).toBeNull();
  });

  it('comes with a caution where a die meets lids, and where no pressure is known', () => {
    expect(partCautions(part, measured(300)).join(' ')).toMatch(/lid only.*No rig states/);
    expect(partCautions({ ...part, contact: 'lid', pressure: 'light' }, measured(300, 'light'))).toEqual([]);
  });
});
