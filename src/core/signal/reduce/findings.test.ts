import { describe, expect, it } from 'vitest';
import { codes, reduceRun } from '../../../../tests/simulatedLog';
import { reduceLogs } from './reduceLogs';
import type { ReduceOptions } from './types';

type Edit = (line: string[], i: number) => string[];
type Log = [options: Partial<ReduceOptions>, edit?: Edit, change?: Parameters<typeof reduceRun>[0]];

// columns of the simulated log: 0 time, 1 to 4 dies, 5 ambient, 6 power, 7 clock, 8 fan, 9 throttling; a line is 2 s, load from line 121
// to 720
const at =
  (column: number, cell: (line: string[], i: number) => string): Edit =>
  (l, i) =>
    i === 0 ? l : l.map((c, k) => (k === column ? cell(l, i) : c));
const inLoad = (i: number) => i > 121 && i < 721;
const drifting =
  (kPerMin: number, from = 400): Edit =>
  (l, i) =>
    i === 0 || i < from
      ? l
      : l.map((c, k) => (k >= 1 && k <= 4 ? (Number(c) + (kPerMin * 2 * (Math.min(i, 720) - from)) / 60).toFixed(1) : c));
const dropping = (i: number, from: number, to: number) => (i >= from && i < to ? '1' : '0');

/** A room probe that follows a share of the part's temperature above its start. */
const following = (share: number): Edit => {
  let start = Number.NaN;
  return (l, i) => {
    if (i === 1) start = Number(l[1]);
    return at(5, () => (Number(l[5]) + share * (Number(l[1]) - start)).toFixed(2))(l, i);
  };
};
const moved = (stamp: string, seconds: number) =>
  new Date(Date.parse(`${stamp.replace(' ', 'T')}Z`) + 1000 * seconds).toISOString().replace('T', ' ').replace('Z', '');
const wavering =
  (size: number): Edit =>
  (l, i) =>
    inLoad(i) ? l.map((c, k) => (k >= 1 && k <= 4 ? (Number(c) + size * Math.sin((2 * Math.PI * i) / 75)).toFixed(1) : c)) : l;

/** Findings of the run value: a log that raises each, and one that only just does not. */
const PAIRS: Record<string, { raises: Log; spares: Log }> = {
  not_steady: { raises: [{}, drifting(0.4)], spares: [{}, drifting(0.1)] },
  creeping: { raises: [{ margin_k: 0.5 }, undefined, { load_s: 650 }], spares: [{ margin_k: 1 }, undefined, { load_s: 650 }] },
  short_load: { raises: [{}, undefined, { load_s: 110 }], spares: [{}, undefined, { load_s: 130 }] },
  no_load: {
    raises: [{}, (l, i) => at(6, () => (inLoad(i) ? '23.0' : '20.0'))(l, i)],
    spares: [{}, (l, i) => at(6, () => (inLoad(i) ? '28.0' : '20.0'))(l, i)],
  },
  throttled: { raises: [{}, at(9, (_, i) => dropping(i, 700, 721))], spares: [{}, at(9, () => '0')] },
  throttled_early: { raises: [{}, at(9, (_, i) => dropping(i, 200, 210))], spares: [{}, at(9, (_, i) => dropping(i, 200, 202))] },
  near_limit: { raises: [{}, undefined, { interface_k_per_w: 0.234 }], spares: [{}, undefined, { interface_k_per_w: 0.2 }] },
  ambient_missing: { raises: [{}, (l) => l.filter((_, k) => k !== 5)], spares: [{ room_c: 22 }, (l) => l.filter((_, k) => k !== 5)] },
  ambient_typed: { raises: [{ room_c: 22, room_u_k: 0.5 }, (l) => l.filter((_, k) => k !== 5)], spares: [{ room_c: 22, room_u_k: 0.5 }] },
  ambient_drift: { raises: [{}, undefined, { room_drift_k_per_h: 2.2 }], spares: [{}, undefined, { room_drift_k_per_h: 0.8 }] },
  ambient_range: {
    raises: [{ ambient_range_k: 0.6 }, undefined, { room_drift_k_per_h: 2.2 }],
    spares: [{ ambient_range_k: 1.2 }, undefined, { room_drift_k_per_h: 2.2 }],
  },
  value_missing: { raises: [{ value: 'fixed' }], spares: [{ value: 'fixed', at_s: 900 }] },
  ambient_band: { raises: [{ ambient_band_c: [22.3, 24] }], spares: [{ ambient_band_c: [21.5, 22.5] }] },
  power_differs: { raises: [{ power_w: 136 }], spares: [{ power_w: 138 }] },
  'power_differs by the study’s own tolerance': {
    raises: [{ power_w: 138, power_tolerance: 0.01 }],
    spares: [{ power_w: 139, power_tolerance: 0.01 }],
  },
  fan_differs: { raises: [{ fan_rpm: 1160 }], spares: [{ fan_rpm: 1185 }] },
  clock_differs: { raises: [{ clock_mhz: 2060 }], spares: [{ clock_mhz: 2090 }] },
  power_unsteady: {
    raises: [{}, (l, i) => (inLoad(i) ? at(6, () => (140 + 5 * Math.sin(i / 2)).toFixed(1))(l, i) : l)],
    spares: [{}, (l, i) => (inLoad(i) ? at(6, () => (140 + 2.5 * Math.sin(i / 2)).toFixed(1))(l, i) : l)],
  },
  fan_unsteady: {
    // a surge of 100 rpm every two minutes that mostly lies outside the window, against one of 40 rpm
    raises: [{}, (l, i) => (inLoad(i) ? at(8, () => String(i % 60 < 8 ? 1300 : 1200))(l, i) : l)],
    spares: [{}, (l, i) => (inLoad(i) ? at(8, () => String(i % 60 < 8 ? 1240 : 1200))(l, i) : l)],
  },
  stuck_sensor: {
    raises: [{}, at(1, (l, i) => (i < 150 ? l[1] : '70.0'))],
    spares: [{}, at(1, (l, i) => (i >= 300 && i < 325 ? '70.0' : l[1]))],
  },
  spikes: {
    raises: [{}, at(1, (l, i) => (i === 640 ? '95.0' : l[1]))],
    spares: [{}, at(1, (l, i) => (i === 640 ? (Number(l[1]) + 0.4).toFixed(1) : l[1]))],
  },
  gaps: {
    raises: [{}, at(1, (l, i) => (i > 400 && i < 405 ? '' : l[1]))],
    spares: [{}, at(1, (l, i) => (i > 400 && i < 404 ? '' : l[1]))],
  },
  rows_left_out: { raises: [{}, (l, i) => (i === 300 ? l.slice(0, 4) : l)], spares: [{}] },
  unit_suspect: {
    raises: [{ limit_c: null }, at(1, (l, i) => (inLoad(i) ? (160 + (i % 3) / 10).toFixed(1) : l[1]))],
    spares: [{ limit_c: null }, at(1, (l, i) => (inLoad(i) ? '120.0' : l[1]))],
  },
  heat_soaked: { raises: [{}, undefined, { warm_start_k: 15, idle_s: 70 }], spares: [{}, undefined, { warm_start_k: 0, idle_s: 70 }] },
  started_colder: {
    raises: [{ first: { sensor_rise_k: 8, coolant_rise_k: null } }],
    spares: [{ first: { sensor_rise_k: 4, coolant_rise_k: null } }],
  },
  'heat_soaked on purpose': {
    raises: [{ first: { sensor_rise_k: 0, coolant_rise_k: null } }],
    spares: [{ first: { sensor_rise_k: 0, coolant_rise_k: null }, prewarmed: true }],
  },
  ambient_dead: { raises: [{}, at(5, () => '-127.0')], spares: [{}, at(5, (l, i) => (i % 9 === 0 ? '-127.0' : l[5]))] },
  'ambient_dead far outside the band': { raises: [{ ambient_band_c: [33, 36] }], spares: [{ ambient_band_c: [32, 36] }] },
  ambient_frozen: { raises: [{}, at(5, (l, i) => (i < 390 ? l[5] : '21.97'))], spares: [{}, at(5, (l, i) => (i < 590 ? l[5] : '21.97'))] },
  'ambient_frozen at nought': { raises: [{}, at(5, () => '0.0')], spares: [{}, at(5, () => '0.1')] },
  ambient_gaps: { raises: [{}, at(5, (l, i) => (i < 400 ? l[5] : '-127.0'))], spares: [{}, at(5, (l, i) => (i < 560 ? l[5] : '-127.0'))] },
  ambient_in_airflow: { raises: [{}, following(0.14)], spares: [{}, following(0.06)] },
  ambient_on_part: { raises: [{}, following(0.7)], spares: [{}, following(0.3)] },
  rise_impossible: {
    raises: [{}, at(5, (l) => (Number(l[5]) + 60).toFixed(2))],
    spares: [{}, at(5, (l) => (Number(l[5]) + 30).toFixed(2))],
  },
  'unit_suspect of a room': { raises: [{}, at(5, () => '71.6')], spares: [{ ambient_band_c: [60, 75] }, at(5, () => '71.6')] },
  unit_guessed: {
    raises: [{}, (l, i) => (i === 0 ? l.map((c, k) => (k === 1 ? 'Die 1' : c)) : at(1, () => (Number(l[1]) * 1.8 + 32).toFixed(1))(l, i))],
    spares: [{}, (l, i) => (i === 0 ? l.map((c, k) => (k === 1 ? 'Die 1' : c)) : at(1, () => (Number(l[1]) + 30).toFixed(1))(l, i))],
  },
  column_unused: {
    raises: [{}, (l, i) => [...l, i === 0 ? 'Board (°C)' : '41.0']],
    spares: [{}, (l, i) => [...l, i === 0 ? 'Board (hPa)' : '41.0']],
  },
  clock_step: {
    raises: [{}, at(0, (l, i) => (i < 300 ? l[0] : moved(l[0], -1500)))],
    spares: [{}, at(0, (l, i) => (i < 300 || i > 304 ? l[0] : moved(l[0], -1500)))],
  },
  clock_change: {
    raises: [{}, at(0, (l, i) => (i < 300 ? l[0] : moved(l[0], -3600)))],
    spares: [{}, at(0, (l, i) => (i < 300 ? l[0] : moved(l[0], -3500)))],
  },
  time_coarse: {
    raises: [{}, at(0, (l) => `${l[0].slice(0, 18)}${Math.floor(Number(l[0][18]) / 5) * 5}`)],
    spares: [{}, at(0, (l) => l[0].slice(0, 19))],
  },
  window_widened: { raises: [{}, wavering(1.6)], spares: [{}, wavering(0.03)] },
  sensors_differ: { raises: [{ sensors: ['Die 1', 'Die 2', 'Die 3'] }], spares: [{ sensors: ['Die 4', 'Die 3', 'Die 2', 'Die 1'] }] },
  primary_sensor: { raises: [{ sensor: 'Die 1' }, at(1, () => '-127.0')], spares: [{ sensor: 'Die 1' }] },
  window_by_hand: { raises: [{ window: { start_s: 1100, end_s: 1300 } }], spares: [{ window: null }] },
};

describe('findings of the run value, each with a near miss', () => {
  it.each(Object.entries(PAIRS))('%s', (code, { raises, spares }) => {
    const [a, editA, changeA] = raises;
    const [b, editB, changeB] = spares;
    const [name] = code.split(' ');
    expect(codes(reduceRun(changeA, a, editA))).toContain(name);
    expect(codes(reduceRun(changeB, b, editB))).not.toContain(name);
  });

  it('clock_offset, of a file put on the clock by its load, and of none with the same zone', () => {
    const at = (t: number, from: number) => (t >= from && t < from + 600 ? 1 : 0);
    const warming = (t: number, from: number) =>
      t < from ? 0 : t < from + 600 ? 1 - Math.exp(-(t - from) / 60) : 0.99 * Math.exp(-(t - from - 600) / 60);
    const stamp = (t: number) => new Date(1780300800000 + 1000 * t).toISOString();
    const write = (head: string, time: (t: number) => string, cells: (t: number) => string) =>
      new TextEncoder().encode(`${head}\n${Array.from({ length: 1000 }, (_, t) => `${time(t)},${cells(t)}`).join('\n')}\n`);
    const host = (time: (t: number) => string) => ({
      name: 'host.csv',
      bytes: write('Time,Die (°C),Power (W)', time, (t) => `${(30 + 40 * warming(t, 200)).toFixed(2)},${20 + 120 * at(t, 200)}`),
    });
    const bench = (time: (t: number) => string) => ({
      name: 'bench.csv',
      bytes: write('Time,Room (°C),Wall power (W)', time, (t) => `22.0,${30 + 150 * at(t, 230)}`),
    });
    const elapsed = (t: number) => String(t);
    const found = reduceLogs([host(elapsed), bench(elapsed)]).reduction;
    expect(codes(found)).toContain('clock_offset');
    expect(found.clock_offset_s['bench.csv']).toBeCloseTo(-30, 0);
    expect(codes(reduceLogs([host(stamp), bench(stamp)]).reduction)).not.toContain('clock_offset');
  });
});

describe('what a run tells beside its value', () => {
  it('numbers the boosts', () => {
    const boosts = (l: string[], i: number) => at(6, () => (i > 121 && i < 151 ? '190.0' : i >= 151 && i < 190 ? '165.0' : l[6]))(l, i);
    const { stages } = reduceRun({}, {}, boosts);
    expect(stages.map((s) => [s.stage, s.number])).toEqual([
      ['idle', null],
      ['boost', 1],
      ['boost', 2],
      ['sustained', null],
      ['cooldown', null],
    ]);
  });
  it('tells the range of the fan, its surges and how late it spun up', () => {
    const fan = at(8, (_, i) => (i < 151 ? '800' : i > 721 ? '800' : i % 60 < 8 ? '1400' : '1200'));
    const { fan: figures } = reduceRun({}, {}, fan);
    expect(figures).toMatchObject({ min_rpm: 800, max_rpm: 1400 });
    expect(figures?.spin_up_s).toBeGreaterThan(55);
    expect(figures?.spin_up_s).toBeLessThan(65);
    expect(figures?.surges_per_min).toBeCloseTo(0.5, 1);
    expect(figures?.cycle_s).toBeCloseTo(120, -1);
    expect(reduceRun().fan).toMatchObject({ spin_up_s: null, cycle_s: null, surges_per_min: 0 });
    expect(reduceRun({}, {}, (l) => l.filter((_, k) => k !== 8)).fan).toBeNull();
  });
  it('times events from the start of the load; one that never came is longer than the load', () => {
    const early = reduceRun(
      {},
      {},
      at(9, (_, i) => dropping(i, 221, 240)),
    );
    expect(early.times_to[0]).toMatchObject({ event: 'throttle', reached: true });
    expect(early.times_to[0].s).toBeCloseTo(200, -1);
    expect(early.events[0].load_s).toBe(early.times_to[0].s);
    expect(reduceRun().times_to[0]).toMatchObject({ event: 'throttle', reached: false });
    expect(reduceRun().times_to[0].s).toBeCloseTo(1200, -1);
    expect(reduceRun({}, { limit_c: null }, (l) => l.slice(0, -1)).times_to).toEqual([]);
  });
  it('reads score and frames of the log itself', () => {
    const more: Edit = (l, i) => [
      ...l,
      i === 0 ? 'Frame time (ms)' : i % 100 === 0 ? '40' : '10',
      i === 0 ? 'Score' : i > 715 ? '4321' : '',
    ];
    const { performance, power_w } = reduceRun({}, {}, more);
    expect(performance).toMatchObject({ score: 4321, slow_frame_rate: 25 });
    expect(performance?.frame_rate).toBeCloseTo(1000 / 10.3, 0);
    expect(performance?.score_per_w).toBeCloseTo(4321 / (power_w ?? 1), 6);
    expect(reduceRun().performance).toBeNull();
  });
  it('takes kelvin below 150 as a rise and above it as a temperature', () => {
    const plain = reduceRun();
    const kelvin =
      (f: (celsius: number, room: number) => number, drop: boolean): Edit =>
      (l, i) => {
        const dies = l.slice(1, 5).map((c, k) => (i === 0 ? `Die ${k + 1} (K)` : f(Number(c), Number(l[5])).toFixed(2)));
        return [l[0], ...dies, ...(drop ? [] : [l[5]]), ...l.slice(6)];
      };
    const absolute = reduceRun(
      {},
      {},
      kelvin((c) => c + 273.15, false),
    );
    const risen = reduceRun(
      {},
      {},
      kelvin((c, room) => c - room, false),
    );
    const alone = reduceRun(
      {},
      {},
      kelvin((c, room) => c - room, true),
    );
    for (const run of [absolute, risen, alone]) {
      expect(run.rise_k).toBeCloseTo(plain.rise_k ?? 0, 1);
      expect(run.valid).toBe(true);
    }
    expect(risen.sensors[0].mean_c).toBeCloseTo(plain.sensors[0].mean_c ?? 0, 1);
    expect(alone.sensors[0].mean_c).toBeNull();
    expect(codes(alone)).not.toContain('ambient_missing');
  });
});

describe('lines that a figure only just crosses, or only just does not', () => {
  const peak = (limit: number, edit?: Edit) => codes(reduceRun({}, { limit_c: limit }, edit));
  it('3 K of the limit', () => {
    const flat: Edit = (l, i) => (i === 0 ? l : l.map((c, k) => (k >= 1 && k <= 4 ? (inLoad(i) ? '70.0' : '26.0') : c)));
    const moving: Edit = (l, i) => flat(l, i).map((c, k) => (k >= 1 && k <= 4 && i > 0 ? (Number(c) + (i % 3) / 100).toFixed(2) : c));
    expect(peak(72.9, moving)).toContain('near_limit');
    expect(peak(73.1, moving)).not.toContain('near_limit');
  });
  it('a start that falls by half a kelvin a minute', () => {
    const falling =
      (perMin: number): Edit =>
      (l, i) =>
        i === 0 || i > 121 ? l : l.map((c, k) => (k >= 1 && k <= 4 ? (27 - (perMin * 2 * i) / 60).toFixed(3) : c));
    expect(codes(reduceRun({}, {}, falling(0.55)))).toContain('heat_soaked');
    expect(codes(reduceRun({}, {}, falling(0.45)))).not.toContain('heat_soaked');
  });
});
