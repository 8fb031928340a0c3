import { describe, expect, it } from 'vitest';
import { amountUsed, readStep, recordProblem, type StepStates } from './attempt';

const weighed: StepStates = { apply: { records: { mass_before_mg: 5200, mass_after_mg: 4850 } } };

describe('what is written down at a mount', () => {
  it('tells the amount from the tube before and after, its volume and mean bond line', () => {
    // 350 mg at 2.5 g/cm³ is 140 mm³, over 1369 mm² 102.3 µm
    const used = amountUsed(weighed, 2.5, 1369);
    expect(used).toMatchObject({ mass_mg: 350, volume_mm3: 140 });
    expect(used?.bond_line_um).toBeCloseTo(102.264, 3);
    expect(amountUsed(weighed, null, 1369)).toEqual({ mass_mg: 350, volume_mm3: null, bond_line_um: null });
    expect(amountUsed({ apply: { records: { mass_before_mg: 5200 } } }, 2.5, 1)).toBeNull();
  });
  it('refuses a tube that weighs more afterwards, and figures out of range, with a sentence', () => {
    expect(recordProblem('mass_after_mg', 5300, weighed)).toBe(
      'The tube weighs more after (5300 mg) than before (5200 mg); it should weigh less. Were they taken in the other order?',
    );
    expect(recordProblem('mass_after_mg', 5200, weighed)).toBeNull();
    expect(recordProblem('torque_nm', 51, {})).toBe('Torque should be between 0 and 50 N·m.');
    expect(recordProblem('room_c', Number.NaN, {})).toBe('Room is a number in °C.');
    expect(recordProblem('lot', 'x'.repeat(501), {})).toMatch(/up to 500/);
    expect(recordProblem('note', null, {})).toBeNull();
  });
  it('reads a step, and names what it cannot take', () => {
    expect(readStep('apply', { done_at: '2026-06-02T09:30:00.000Z', records: { lot: 'A7' } }, {})).toEqual({
      key: 'apply',
      state: { done_at: '2026-06-02T09:30:00.000Z', records: { lot: 'A7' } },
    });
    const problem = (key: unknown, given: unknown, states: StepStates = {}) =>
      (readStep(key, given, states) as { problem?: string }).problem;
    expect(problem('fly', {})).toBe('There is no such step.');
    expect(problem('toString', {})).toBe('There is no such step.');
    expect(problem('apply', { done_at: 'now' })).toMatch(/in UTC/);
    expect(problem('apply', { stop_reason: ' ' })).toMatch(/Say in 1 to 500/);
    expect(problem('apply', { records: { colour: 'red' } })).toMatch(/no record colour/);
    expect(problem('apply', { records: { mass_after_mg: 9e9 } }, weighed)).toMatch(/between 0 and/);
    // both masses sent at once are held against each other
    expect(problem('apply', { records: { mass_before_mg: 10, mass_after_mg: 20 } })).toMatch(/weighs more after/);
    expect(problem('apply', null)).toMatch(/an object/);
  });
  it('keeps ticks, interfaces and choices, and refuses what is none', () => {
    expect(readStep('take_apart', { ticks: [0, 2, 2] }, {})).toEqual({ key: 'take_apart', state: { ticks: [0, 2] } });
    expect(readStep('place', { interfaces: { memory: 'reused' } }, {})).toEqual({
      key: 'place',
      state: { interfaces: { memory: 'reused' } },
    });
    const problem = (key: string, given: unknown) => (readStep(key, given, {}) as { problem?: string }).problem;
    expect(problem('take_apart', { ticks: [-1] })).toMatch(/places in the take-apart list/);
    expect(problem('take_apart', { ticks: 'all' })).toMatch(/places in the take-apart list/);
    expect(problem('place', { interfaces: { memory: 'lost' } })).toBe('An interface is one of renewed, reused, inspected.');
    expect(problem('place', { interfaces: { ['x'.repeat(81)]: 'reused' } })).toMatch(/one of/);
    expect(recordProblem('lid_method', 'shear', {})).toBeNull();
    expect(recordProblem('lid_method', 'toString', {})).toBe('By is one of Shear, Heat, Heat, then shear.');
    expect(recordProblem('heights', 'x'.repeat(4000), {})).toBeNull();
    expect(recordProblem('heights', 'x'.repeat(4001), {})).toMatch(/up to 4000/);
    expect(recordProblem('clearance_mm', -6, {})).toMatch(/between -5 and 50 mm/);
  });
});
