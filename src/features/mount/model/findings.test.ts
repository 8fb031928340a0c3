import { describe, expect, it } from 'vitest';
import type { StepStates } from './attempt';
import { type MountFindingSetting, mountFindings } from './findings';
import { mountSteps } from './steps';

const found = (states: StepStates, more: Partial<MountFindingSetting> = {}) =>
  mountFindings({ states, steps: [], stops: [], neighbours: [], torque_max_nm: null, cycles: null, pot_life_min: null, ...more }).map(
    (f) => `${f.code}: ${f.message}`,
  );
const AT = '2026-06-02T09:30:00.000Z';

describe('findings of a mount', () => {
  it('are none where nothing is odd', () => {
    expect(
      found(
        { place: { done_at: AT }, tighten: { records: { torque_nm: 0.6 } }, condition: { records: { cycles: 4 } } },
        { torque_max_nm: 0.6, cycles: 4 },
      ),
    ).toEqual([]);
  });

  it('name each interface that the lift separated and nobody told of', () => {
    const neighbours = ['memory pads', 'regulator pad'];
    expect(found({ place: { done_at: AT } }, { neighbours })).toEqual([
      'interface_not_told: The lift also separated memory pads, regulator pad; whether those interfaces were renewed, used again or inspected is not recorded.',
    ]);
    expect(
      found({ place: { done_at: AT, interfaces: { 'memory pads': 'renewed', 'regulator pad': 'inspected' } } }, { neighbours }),
    ).toEqual([]);
    expect(found({ place: { done_at: AT, interfaces: { 'memory pads': 'renewed', 'regulator pad': 'reused' } } }, { neighbours })).toEqual([
      'interface_reused: Used again after the lift: regulator pad. A pad that was compressed before behaves differently.',
    ]);
    // not lifted yet
    expect(found({}, { neighbours })).toEqual([]);
  });

  it('tell a torque above what the screws take, and not one at it', () => {
    expect(found({ tighten: { records: { torque_nm: 0.9 } } }, { torque_max_nm: 0.8 })[0]).toMatch(
      /^torque_above: 0.9 N·m is above the 0.8 N·m/,
    );
    expect(found({ tighten: { records: { torque_nm: 0.8 } } }, { torque_max_nm: 0.8 })).toEqual([]);
    expect(found({ tighten: { records: { torque_nm: 9 } } })).toEqual([]);
  });

  it('tell a neighbour that holds the cooler off, as the gap table found it', () => {
    expect(found({ measure: { records: { held_off: 'memory carries the cooler: 0.30 mm are left over the die.' } } })).toEqual([
      'held_off: memory carries the cooler: 0.30 mm are left over the die.',
    ]);
    expect(found({ measure: { records: { held_off: null } } })).toEqual([]);
  });

  it('tell too few cycles', () => {
    expect(found({ condition: { records: { cycles: 3 } } }, { cycles: 4 })[0]).toMatch(/^not_conditioned: 3 of 4 /);
    expect(found({ condition: { records: { cycles: 4 } } }, { cycles: 4 })).toEqual([]);
  });

  it('tell what was applied after its pot life', () => {
    const states = { prepare: { timer_from: AT }, apply: { done_at: '2026-06-02T10:15:00.000Z' } };
    expect(found(states, { pot_life_min: 40 })).toEqual(['pot_life_over: Applied 45 min after mixing; the pot life is 40 min.']);
    expect(found(states, { pot_life_min: 45 })).toEqual([]);
  });

  it('carry the reason of a hard stop that was passed', () => {
    const stop = { code: 'aluminium_attacked', step: 'apply', message: 'Tarn destroys aluminium.' } as const;
    expect(found({ apply: { stop_reason: 'a coupon to be thrown away' } }, { stops: [stop] })).toEqual([
      'stop_passed: Tarn destroys aluminium. Done anyway: a coupon to be thrown away',
    ]);
  });

  it('tell cracks, but not that there are none', () => {
    const steps = mountSteps({ kind: 'paste', part: 'die', sheet: {}, masked_neighbours: '', run_min: 40, work: ['lapping'] });
    expect(found({ lap: { records: { cracks: 'one at the lower edge' } } }, { steps })).toEqual([
      'cracks_seen: Cracks after lapping: one at the lower edge.',
    ]);
    expect(found({ lap: { records: { cracks: 'none' } } }, { steps })).toEqual([]);
  });
});
