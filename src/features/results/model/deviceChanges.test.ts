import { describe, expect, it } from 'vitest';
import { runFact, studyFacts } from '../../../../tests/studyFacts.ts';
import { beforeAndAfter } from './beforeAfter';
import { studyChoice } from './choice';
import { deviceRows } from './deviceChanges';
import type { RunFact, StudyFacts } from './facts';
import { referenceDrift } from './referenceDrift';

let mount = 0;
/** Mounts of one state on one device, each with its runs. */
const state = (rig: string, specimen: string, rises: number[][], more: Partial<RunFact> = {}): RunFact[] =>
  rises.flatMap((runs) => {
    mount++;
    return runs.map((rise, i) => runFact(specimen, mount, rise, { rig, mount_id: mount, run: i + 1, day: '2026-06-01', ...more }));
  });
const study = (runs: RunFact[], more: Partial<StudyFacts> = {}, fixed = false) => {
  const facts = studyFacts(runs, { design: 'before_after', block: 'rig', reference: 'Before', ...more });
  return { ...facts, specimens: facts.specimens.map((s) => ({ ...s, fixed: fixed && s.name === 'Before' })) };
};
const tables = (facts: StudyFacts) => beforeAndAfter(facts)[0]?.devices ?? [];
const rise = (facts: StudyFacts) => tables(facts).find((t) => t.outcome === 'rise');

describe('a change on several devices', () => {
  const three = () => [
    ...state('Ash', 'Before', [[52.7], [53.4]]),
    ...state('Ash', 'After', [[49.2], [49.1]]),
    ...state('Birch', 'Before', [[42.2], [42.2]]),
    ...state('Birch', 'After', [[38.6], [38.0]]),
    ...state('Cedar', 'Before', [[47.5], [47.2]]),
    ...state('Cedar', 'After', [[43.3], [44.4]]),
  ];

  it('is told for each, for these, and for devices like these', () => {
    const table = rise(study(three()));
    expect(table?.cells.map((c) => [c.device, c.before.mounts, c.after.mounts])).toEqual([
      ['Ash', 2, 2],
      ['Birch', 2, 2],
      ['Cedar', 2, 2],
    ]);
    expect(table?.cells[0].change).toBeCloseTo(-3.9, 9);
    expect(table?.cells.every((c) => c.ci && c.ci[0] < -3.9 && c.ci[1] > -3.4)).toBe(true);
    expect(table?.sentences).toEqual([
      expect.stringMatching(
        /^Mean over these 3 devices: −3\.8 K \(95 % −4\.4 to −3\.2\), by the scatter of their mounts\. No difference between the devices is shown/,
      ),
      expect.stringMatching(/^Mean over devices like these: −3\.8 K .*; the next device is expected within −\d\.\d to −\d\.\d K\.$/),
    ]);
  });

  it('lists changes without intervals where one mount a cell of two devices says nothing of chance, and why', () => {
    const two = [
      ...state('Ash', 'Before', [[52.7]]),
      ...state('Ash', 'After', [[49.2]]),
      ...state('Birch', 'Before', [[42.2]]),
      ...state('Birch', 'After', [[38.6]]),
    ];
    const table = rise(study(two));
    expect(table?.cells.map((c) => c.ci)).toEqual([null, null]);
    expect(table?.sentences).toEqual([
      expect.stringMatching(/^Changes only, without intervals: with one mount of each state and 2 devices/),
    ]);
    // a third device: what devices like these show, still none of each
    const more = rise(study([...two, ...state('Cedar', 'Before', [[47.5]]), ...state('Cedar', 'After', [[43.3]])]));
    expect(more?.sentences).toEqual([
      expect.stringMatching(/^Mean over devices like these/),
      expect.stringMatching(/^No device has two mounts of a state/),
    ]);
  });

  it('gives a state that cannot come back the error of its runs, each load by itself, and a bound where it throttled', () => {
    const loads = ['Field', 'Burn'];
    const runs = loads.flatMap((load, i) =>
      ['Ash', 'Birch'].flatMap((rig) => [
        ...state(rig, 'Before', [[52 + i, 52.2 + i, 51.9 + i]], {
          load,
          ...(load === 'Burn' && rig === 'Birch' ? { valid: false, censored: true } : {}),
        }),
        ...state(rig, 'After', [[48 + i], [48.4 + i]], { load }),
      ]),
    );
    const facts = study(runs, { loads }, true);
    expect(beforeAndAfter(facts).map((s) => s.load)).toEqual(loads);
    const [field, burn] = tables(facts).filter((t) => t.outcome === 'rise');
    expect([field.load, burn.load]).toEqual(loads);
    expect(field.cells.every((c) => c.ci !== null)).toBe(true);
    expect(burn.cells.map((c) => [c.device, c.before.mean === null, c.before.at_or_above, c.change === null])).toEqual([
      ['Ash', false, null, false],
      ['Birch', true, 53.2, true],
    ]);
    expect(burn.sentences.at(-1)).toMatch(/^1 device has no value in one of the states and is not in the means\.$/);
    const rows = deviceRows([burn], 'Before', 'After');
    expect(rows[0]).toContain('change');
    expect(rows[2].slice(0, 5)).toEqual(['Birch', 'Burn', 'ΔT over ambient', 'K', '>= 53.2']);
  });

  it('is no drift of the bench, where the state before stands on each of them', () => {
    const facts = study(three());
    expect(referenceDrift(facts, studyChoice(facts))).toBeNull();
    expect(referenceDrift({ ...facts, design: 'one_factor' }, studyChoice(facts))).not.toBeNull();
  });

  it('gives no interval where all read the same to the last digit', () => {
    const same = ['Ash', 'Birch', 'Cedar'].flatMap((rig, i) => [...state(rig, 'Before', [[50 + i]]), ...state(rig, 'After', [[42 + i]])]);
    expect(rise(study(same))?.sentences).toEqual([
      expect.stringMatching(/^All 3 devices changed by −8\.0 K to the last digit: no interval/),
    ]);
    const twice = ['Ash', 'Birch'].flatMap((rig, i) => [
      ...state(rig, 'Before', [[50 + i], [50 + i]]),
      ...state(rig, 'After', [[42 + i], [42 + i]]),
    ]);
    expect(rise(study(twice))?.cells.map((c) => c.ci)).toEqual([null, null]);
  });

  it('is told for one device as before, without a table', () => {
    expect(tables(study([...state('Ash', 'Before', [[52], [53]]), ...state('Ash', 'After', [[48], [49]])]))).toEqual([]);
  });
});
