import { describe, expect, it } from 'vitest';
import { RECORDS } from './attempt';
import { mountSteps } from './steps';
import { STEP_NAMES } from './stepTypes';
import { WORK, type WorkKind, workSteps } from './work';

const setting = { kind: 'paste', sheet: {}, teardown: 4 } as const;

/** Each kind of work with its steps (! a caution to be acknowledged, ~ a caution), what they record, and words of their cautions. */
const TABLE: Record<WorkKind, { steps: string; records: string; caution: RegExp }> = {
  teardown: { steps: 'take_apart~ reassemble', records: 'minutes note minutes note', caution: /can void its warranty/ },
  separating: { steps: 'separate~', records: 'escaped lint seal', caution: /Liquid metal from an earlier application may be inside/ },
  lid_off: {
    steps: 'lid_off!',
    records: 'lid_method temperature_c minutes residue',
    caution: /eye protection[\s\S]*never one that is used for food/,
  },
  lapping: { steps: 'lap!', records: 'abrasive minutes heights_after cracks', caution: /work wet, with a mask/ },
  lid_refit: { steps: 'lid_refit~', records: 'lid_fixing adhesive_gap_um note', caution: /measure the gap/ },
  direct_mount: { steps: 'direct!', records: 'higher clearance_mm hold_down pressure_from', caution: /chips at its edges/ },
  plate: { steps: 'plate!', records: 'heights insulation pressed_at', caution: /Copper on aluminium corrodes/ },
};

describe('work on the machine', () => {
  it.each(Object.keys(TABLE) as WorkKind[])('%s has its steps, records and cautions', (kind) => {
    const steps = workSteps([kind], setting);
    expect(steps.map((s) => s.key + (s.grave ? '!' : s.cautions.length > 0 ? '~' : '')).join(' ')).toBe(TABLE[kind].steps);
    expect(steps.flatMap((s) => s.record).join(' ')).toBe(TABLE[kind].records);
    expect(steps.flatMap((s) => s.cautions).join('\n')).toMatch(TABLE[kind].caution);
    for (const record of steps.flatMap((s) => s.record)) expect(RECORDS[record]).toBeDefined();
  });

  it('asks for the mark of a caution where liquid metal is lifted', () => {
    expect(workSteps(['separating'], { ...setting, kind: 'liquid_metal' })[0]).toMatchObject({
      grave: true,
      cautions: [expect.stringMatching(/destroys aluminium/), expect.anything()],
    });
  });

  it('asks for a list where the rig has none', () => {
    expect(workSteps(['teardown'], { ...setting, teardown: 0 })[0].what[0]).toMatch(/no take-apart list yet/);
  });

  it('comes in the order of the bench among the steps of the mount', () => {
    const steps = mountSteps({
      ...{ kind: 'liquid_metal', part: 'die', sheet: {}, masked_neighbours: '', run_min: 40 },
      work: Object.keys(WORK).reverse() as WorkKind[],
    }).map((s) => s.key);
    expect(steps).toEqual(Object.keys(STEP_NAMES).filter((k) => steps.includes(k as never)));
    expect(steps).toEqual([
      ...['disconnect', 'take_apart', 'separate', 'lid_off', 'clean', 'inspect', 'lap', 'measure', 'lid_refit', 'direct'],
      ...['mask', 'prepare', 'apply', 'plate', 'place', 'tighten', 'reassemble', 'first_start'],
    ]);
  });
});
