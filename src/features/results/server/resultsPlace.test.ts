import { describe, expect, it } from 'vitest';
import { compareStudy, studyChoice } from '#features/results/model/choice';
import { mountFigures } from '#features/results/model/figures';
import { otherPairs } from '#features/results/model/pairs';
import { partRooms } from '#features/results/model/partRooms';
import type { RunValueRow } from '#features/run/store/runs';
import type { SpecimenRow, StudyRow } from '#features/study/store/studies';
import { factsOf, runsSoFar } from './facts';
import { arrangeResults, lookSentence } from './resultsPlace';
import { railOf } from './studyRail';
import type { StudyResults } from './studyResults';

const study: StudyRow = {
  id: 1,
  title: 'Pastes',
  question: '',
  margin_k: 1,
  confidence: 0.95,
  scatter: 'auto',
  reduction: {},
  plan: {},
  reference_id: 1,
  archived_at: null,
  created_at: new Date(0),
};

/** Results of specimens with their mount values, and of some that throttled in one run; the first is the reference. */
function resultsOf(values: Record<string, number[]>, bounds: Record<string, number> = {}): StudyResults {
  const names = [...Object.keys(values), ...Object.keys(bounds)];
  const specimens: SpecimenRow[] = names.map((name, i) => ({ id: i + 1, study_id: 1, name, kind: 'paste', position: i, plan: {} }));
  const rows = [
    ...Object.entries(values).flatMap(([specimen, list]) => list.map((rise_k, i) => valueRow({ specimen, mount: i + 1, rise_k }))),
    ...Object.entries(bounds).map(([specimen, rise_k]) => valueRow({ specimen, rise_k, valid: false, censored: true })),
  ];
  const facts = factsOf(study, specimens, rows, [], []);
  const choice = studyChoice(facts);
  return {
    ...{ study, reference: facts.reference, specimens, facts, choice },
    mounts: mountFigures(facts, choice),
    history: [],
    notices: [],
    origin: null,
    level: { confidence: 0.95, spent: 0, blocks_done: 0, blocks_planned: 5, looks: [] },
    runs: rows.length,
    left_out: 0,
    analysis: compareStudy(facts, choice),
    lead: null,
  };
}

function valueRow(given: Partial<RunValueRow>): RunValueRow {
  return {
    ...{
      study_id: 1,
      specimen: 'A',
      mount: 1,
      mount_id: 1,
      rig: 'North',
      run: 1,
      run_id: 7,
      at_s: null,
      at_zoned: false,
      day: null,
      load: null,
      rise_k: 41,
      r_k_per_w: 0.3,
    },
    ...{ valid: true, r_valid: true, censored: false, excluded_reason: null, run_excluded_reason: null, idle_rise_k: null, spread_k: null },
    ...{ fan_rpm: null, clock_mhz: null, noise_db: null, power_w: null, throttled_share: null, exhaust_rise_k: null },
    ...{ hottest_rise_k: null, fan_pct: null, voltage_v: null },
    ...{
      performance: null,
      times_to: null,
      sensors: null,
      ladder: null,
      parts: null,
      rig_parts: [],
      fan: null,
      decision: null,
      program: null,
    },
    ...given,
  };
}

describe('the results place', () => {
  it('is empty while nothing is valid', () => {
    expect(arrangeResults(resultsOf({}, { R: 67 }))).toBeNull();
  });
  it('says of one specimen what it reads', () => {
    expect(arrangeResults(resultsOf({ R: [40, 41] }))?.headline.claim).toBe('R runs 40.5 K over ambient');
  });
  it('heads with the coolest against the reference, parted into claim and basis', () => {
    const { headline } = arrangeResults(resultsOf({ R: [44, 44.2, 44.1, 44], A: [40, 40.2, 40.1, 40], B: [42, 42.2, 42.1, 42] })) ?? {
      headline: null,
    };
    expect(headline?.claim).toBe('A runs 4.0 K cooler than R');
    expect(headline?.basis).toMatch(/^\(95 % [\d.]+ to [\d.]+, 4 mounts each\); firm\.$/);
  });
  it('heads with the runner-up where the reference is coolest itself', () => {
    const view = arrangeResults(resultsOf({ R: [40, 40.2, 40.1, 40], A: [44, 44.2, 44.1, 44], B: [42, 42.2, 42.1, 42] }));
    expect(view?.headline.claim).toBe('R runs 2.0 K cooler than B');
    expect(view?.main).toHaveLength(2);
    expect(view && otherPairs(view)).toHaveLength(1);
  });
  it('keeps a specimen that only throttled off the ladder, with its bound', () => {
    const view = arrangeResults(resultsOf({ R: [40, 41], A: [44, 45] }, { Hot: 67.14 }));
    expect(view?.rungs.map((r) => r.name)).toEqual(['R', 'A']);
    expect(view?.unplaced).toEqual(['Hot, throttled at or above 67.1 K']);
  });
  it('says at which planned look its verdicts stand, and nothing where none was planned', () => {
    const results = resultsOf({ R: [40, 41, 40.5], A: [44, 45, 44.5] });
    expect(lookSentence(results.level)).toBe('');
    const level = { confidence: 0.9969, spent: 0.0031, blocks_done: 3, blocks_planned: 6, looks: [3, 5] };
    expect(lookSentence(level)).toBe(
      'Interim analysis: 3 of 6 mounts of each are in. Verdicts are judged with 99.69 % confidence, as interim analyses were planned after 3 and 5 mounts of each; 0.31 % of the error is spent.',
    );
  });
  it('explains its school of scatter by the number of mounts', () => {
    expect(arrangeResults(resultsOf({ R: [40, 41], A: [44, 45] }))?.school).toContain(
      'one pooled scatter for all specimens, because the least measured has 2 mounts',
    );
    expect(arrangeResults(resultsOf({ R: [40, 41, 40, 41], A: [44, 45, 44, 45] }))?.school).toContain(
      "each specimen's own scatter, as all have 4 mounts or more",
    );
  });
  it('draws rail and ladder over the same range: means, intervals, mounts and margin', () => {
    const { low, high, ticks } = railOf(resultsOf({ R: [40, 41, 40.5], A: [44, 45, 44.5] })).range;
    expect(low).toBeLessThan(39.5);
    expect(high).toBeGreaterThan(45);
    expect(ticks.every((v) => v >= low && v <= high)).toBe(true);
    expect(ticks.length).toBeGreaterThan(3);
  });
});

describe('a stored run as a row of the comparison', () => {
  const rowOf = (given: Partial<RunValueRow>) => runsSoFar(factsOf(study, [], [valueRow(given)], [], [])).rows[0];
  it('says why it is left out', () => {
    expect(rowOf({})).toMatchObject({ valid: true, excluded: false, reason: undefined });
    expect(rowOf({ valid: false, censored: true })).toMatchObject({ valid: false, censored: true, reason: 'throttled' });
    expect(rowOf({ valid: false })).toMatchObject({ reason: 'not valid' });
    expect(rowOf({ excluded_reason: 'tilted' })).toMatchObject({ excluded: true, reason: 'tilted' });
    expect(rowOf({ run_excluded_reason: 'door opened' })).toMatchObject({ excluded: true, reason: 'door opened' });
    expect(rowOf({ rise_k: null })).toMatchObject({ valid: false, reason: 'not measured' });
  });
});

describe('parts with limits of their own', () => {
  // the plate cools memory and drive better, and leaves the regulator nearer to its limit
  const plan = { part_limits: 'Memory: Mem = 95; Regulator: VRM = 105', limits_room_c: 35 };
  const specimens: SpecimenRow[] = ['Pads', 'Plate'].map((name, i) => ({
    id: i + 1,
    study_id: 1,
    name,
    kind: 'pad',
    position: i,
    plan: {},
  }));
  const sensor = (name: string, rise_k: number) => ({ name, rise_k, mean_c: null, max_c: null, se_k: null, n_eff: null });
  const rowsOf = (specimen: string, memory: number, regulator: number) =>
    [0, 0.3, -0.2].map((d, i) =>
      valueRow({
        ...{ specimen, mount: i + 1, mount_id: specimen.length * 10 + i, run_id: specimen.length * 10 + i },
        ...{ rise_k: memory + d, sensors: [sensor('Mem', memory + d), sensor('VRM', regulator + d)] },
      }),
    );
  const facts = factsOf({ ...study, plan }, specimens, [...rowsOf('Pads', 50, 55), ...rowsOf('Plate', 44, 66)], [], []);

  it('are judged by the one that is nearest to its limit, against what the temperature says', () => {
    const verdict = (outcome: 'rise' | 'limit_room') => compareStudy(facts, { ...studyChoice(facts), outcome })?.pairs[0].sentence ?? '';
    expect(verdict('rise')).toMatch(/^Plate runs 6\.0 K cooler than Pads/);
    expect(verdict('limit_room')).toMatch(/^Pads stays 6\.0 K farther from its nearest limit than Plate/);
  });
  it('say which part decides, and that the rise alone would have said otherwise', () => {
    const rooms = partRooms(facts);
    expect(rooms?.specimens.map((s) => [s.name, s.decides, s.rooms.map((r) => Number(r?.toFixed(1)))])).toEqual([
      ['Pads', 'Memory', [10, 15]],
      ['Plate', 'Regulator', [16, 4]],
    ]);
    expect(rooms?.sentences).toEqual([
      'Pads: Memory decides, 10.0 K below its limit in a room of 35 °C.',
      'Plate: Regulator decides, 4.0 K below its limit in a room of 35 °C.',
      'By ΔT alone Plate leads; by the nearest limit Pads does, with 10.0 K against 4.0 K: Regulator under Plate decides.',
    ]);
  });
  it('are not asked about where the plan states none', () => {
    expect(partRooms(factsOf(study, specimens, rowsOf('Pads', 50, 55), [], []))).toBeNull();
  });
});
