import { describe, expect, it } from 'vitest';
import { NORTH_BENCH } from '#simulator/rigs';
import { base, codes, reduceRun } from '../../../../tests/simulatedLog';

describe('a simulated run', () => {
  it('gives the resistance of its ladder', () => {
    const run = reduceRun();
    const total = NORTH_BENCH.ladder.reduce((sum, n) => sum + n.resistance, base.interface_k_per_w);
    expect(run.valid).toBe(true);
    expect(run.findings).toEqual([]);
    expect(run.r_k_per_w).toBeCloseTo(total, 2);
    expect(run.spread_k).toBeCloseTo(140 * 0.026, 1);
    expect(run.idle_rise_k).toBeCloseTo(14 * total, 0);
    expect(run.start_state.sensor_rise_k).toBeCloseTo(14 * total, 0);
  });

  it('is judged by the sensors that are asked for', () => {
    const hottest = reduceRun({}, { aggregate: 'hottest' });
    const named = reduceRun({}, { sensor: 'Die 4' });
    expect(hottest.rise_k).toBe(hottest.hottest_rise_k);
    expect(named.rise_k).toBeCloseTo((hottest.rise_k ?? 0) - (hottest.spread_k ?? 0), 6);
  });

  it('gives peak, fixed-time and fitted values as well', () => {
    const run = reduceRun({}, { value: 'fixed', at_s: 900 });
    expect(run.rise_k).toBe(run.fixed_rise_k);
    expect(run.peak_rise_k).toBeGreaterThan(run.mean_rise_k ?? 0);
    expect(run.fitted_rise_k).toBeCloseTo(run.mean_rise_k ?? 0, 0);
    expect(reduceRun({ load_s: 420 }, { value: 'fitted' })).toMatchObject({ valid: true, steady: false });
  });
});

describe('a window set by hand', () => {
  it('is judged like any other, and the one found by itself stands beside it', () => {
    const auto = reduceRun();
    const hand = reduceRun({}, { window: { start_s: 1100, end_s: 1300 } });
    expect(hand).toMatchObject({
      window: { start_s: 1100, end_s: 1300 },
      auto_window: auto.window,
      steady: true,
      valid: true,
      steady_at_s: auto.steady_at_s,
    });
    expect(auto.auto_window).toBeNull();
    expect(hand.rise_k).toBeCloseTo(auto.rise_k ?? 0, 1);
    expect(hand.rise_k).not.toBe(auto.rise_k);
    expect(codes(hand)).toEqual(['window_by_hand']);
    expect(hand.findings[0].message).toBe('The window was set by hand: 1100 to 1300 s; by itself it would be 1322 to 1442 s.');
  });
  it('is not steady where the curve still climbs', () => {
    const early = reduceRun({}, { window: { start_s: 300, end_s: 420 } });
    expect(early).toMatchObject({ steady: false, valid: false });
    expect(codes(early)).toEqual(['window_by_hand', 'not_steady']);
  });
});

describe('findings, each with a near miss', () => {
  it('not steady: cut short', () => {
    expect(codes(reduceRun({ load_s: 400 }))).toContain('not_steady');
    expect(codes(reduceRun({ load_s: 1000 }))).not.toContain('not_steady');
  });
  it('ambient drift beyond 1 K/h', () => {
    expect(codes(reduceRun({ room_drift_k_per_h: 2.2 }))).toContain('ambient_drift');
    expect(codes(reduceRun({ room_drift_k_per_h: 0.5 }))).not.toContain('ambient_drift');
  });
  it('heat-soaked against the first run', () => {
    const first = reduceRun().start_state;
    expect(codes(reduceRun({ warm_start_k: 8, idle_s: 60 }, { first }))).toContain('heat_soaked');
    expect(codes(reduceRun({ seed: 10 }, { first }))).not.toContain('heat_soaked');
  });
  it('throttled, near the limit, and neither', () => {
    const hot = reduceRun({ interface_k_per_w: 0.4 });
    expect(hot).toMatchObject({ censored: true, valid: false });
    expect(hot.rise_k).not.toBeNull();
    expect(hot.events[0].event).toBe('throttle');
    expect(codes(reduceRun({ interface_k_per_w: 0.234 }))).toContain('near_limit');
    expect(codes(reduceRun({ interface_k_per_w: 0.2 }))).not.toContain('near_limit');
  });
  it('an unknown limit leaves the throttled share unknown', () => {
    const dropThrottle = (l: string[]) => l.slice(0, -1);
    expect(reduceRun({}, { limit_c: null }, dropThrottle)).toMatchObject({ throttled_share: null, censored: false });
    expect(reduceRun({}, {}, dropThrottle).throttled_share).toBe(0);
  });
  it('a boost that ends cool is no throttling', () => {
    const boost = (l: string[], i: number) => (i > 121 && i < 160 ? [...l.slice(0, 6), '190.0', ...l.slice(7)] : l);
    const run = reduceRun({}, {}, boost);
    expect(run.stages.map((s) => s.stage)).toEqual(['idle', 'boost', 'sustained', 'cooldown']);
    expect(run.throttled_share).toBe(0);
  });
  it('short load and no load', () => {
    expect(codes(reduceRun({ load_s: 100 }))).toContain('short_load');
    expect(codes(reduceRun({ load_s: 0, cooldown_s: 600 }))).toContain('no_load');
  });
  it('spikes are flagged and left out, steps are not', () => {
    const clean = reduceRun();
    const spiked = reduceRun({}, {}, (l, i) => (i === 640 || i === 690 ? [l[0], '130.0', ...l.slice(2)] : l));
    expect(codes(clean)).not.toContain('spikes');
    expect(codes(spiked)).toContain('spikes');
    expect(spiked.sensors[0].max_c).toBeLessThan(100);
    expect(spiked.rise_k).toBeCloseTo(clean.rise_k ?? 0, 1);
  });
  it('a stuck and a dead sensor take no part, a steady one does', () => {
    const bad = reduceRun({}, {}, (l, i) =>
      i > 300 ? [l[0], '70.0', l[2], l[3], '-127.0', ...l.slice(5)] : i > 0 ? [l[0], l[1], l[2], l[3], '-127.0', ...l.slice(5)] : l,
    );
    expect(codes(bad)).toContain('stuck_sensor');
    expect(bad.sensors.map((s) => s.name)).toEqual(['Die 2', 'Die 3']);
  });
  it('a primary sensor that is out of use is told, and the others stand in', () => {
    const dead = (l: string[], i: number) => (i > 0 ? [l[0], '-127.0', ...l.slice(2)] : l);
    const run = reduceRun({}, { sensor: 'Die 1' }, dead);
    expect(codes(run)).toContain('primary_sensor');
    expect(run.aggregate).toBe('mean');
    expect(codes(reduceRun({}, { sensor: 'Die 1' }))).not.toContain('primary_sensor');
  });
  it('gaps beyond three samples, in one channel or in all', () => {
    expect(codes(reduceRun({}, {}, (l, i) => (i > 400 && i < 407 ? [l[0], 'N/A', ...l.slice(2)] : l)))).toContain('gaps');
    expect(codes(reduceRun({}, {}, (l, i) => (i > 400 && i < 403 ? [l[0], 'N/A', ...l.slice(2)] : l)))).not.toContain('gaps');
  });
  it('an ambient column without a reading is no ambient', () => {
    const run = reduceRun({}, {}, (l, i) => (i === 0 ? l : [...l.slice(0, 5), '', ...l.slice(6)]));
    expect(codes(run)).toEqual(expect.arrayContaining(['ambient_missing', 'ambient_dead']));
    expect(run).toMatchObject({ rise_k: null, valid: false, r_k_per_w: null });
    expect(run.sensors[0].mean_c).toBeGreaterThan(50);
  });
  it('units that cannot be right', () => {
    const inFahrenheit = (l: string[], i: number) =>
      i === 0 ? l : [l[0], ...l.slice(1, 6).map((v) => (Number(v) * 1.8 + 32).toFixed(1)), ...l.slice(6)];
    expect(codes(reduceRun({}, {}, inFahrenheit))).toContain('unit_suspect');
  });
  it('power and fan that wander in the window', () => {
    const wander = (l: string[], i: number) =>
      i > 121 && i < 721
        ? [...l.slice(0, 6), (140 + 8 * Math.sin(i / 2)).toFixed(1), l[7], String(Math.round(1200 + 60 * Math.sin(i / 7))), l[9]]
        : l;
    expect(codes(reduceRun({}, {}, wander))).toEqual(expect.arrayContaining(['power_unsteady', 'fan_unsteady']));
  });
  it('stages from the temperature alone, where nothing else is logged', () => {
    const run = reduceRun({}, {}, (l) => l.slice(0, 6));
    expect(run.stages.map((s) => s.stage)).toEqual(['idle', 'sustained', 'cooldown']);
    expect(Math.abs(run.stages[1].start_s - 240)).toBeLessThan(6);
    expect(Math.abs(run.stages[1].end_s - 1440)).toBeLessThan(4);
    expect(run.power_w).toBeNull();
  });
});
