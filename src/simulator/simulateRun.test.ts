import { describe, expect, it } from 'vitest';
import { readLog } from '#core/signal/logs/readLog';
import { demoRuns, MATERIALS, MOUNTS } from '#demo/studyOne';
import { type Node, stepLadder } from './network';
import { NORTH_BENCH } from './rigs';
import { simulateRun } from './simulateRun';
import { writeLog } from './writeLog';

const base = {
  interface_k_per_w: 0.06,
  idle_s: 60,
  load_s: 1500,
  cooldown_s: 60,
  period_s: 1,
  room_c: 22,
  room_drift_k_per_h: 0,
  warm_start_k: 0,
  seed: 3,
};

describe('RC ladder', () => {
  const nodes: Node[] = [
    { capacity: 20, resistance: 0.05 },
    { capacity: 400, resistance: 0.2 },
  ];
  it('comes to rest at power times resistance, node by node', () => {
    const temperatures = Float64Array.of(22, 22);
    for (let i = 0; i < 20000; i++) stepLadder(nodes, temperatures, 100, 22, 0.1);
    expect(temperatures[0]).toBeCloseTo(22 + 100 * 0.25, 6);
    expect(temperatures[1]).toBeCloseTo(22 + 100 * 0.2, 6);
  });
  it('stores what flows in', () => {
    const temperatures = Float64Array.of(22, 22);
    for (let i = 0; i < 50; i++) stepLadder(nodes, temperatures, 100, 22, 0.01);
    const stored = 20 * (temperatures[0] - 22) + 400 * (temperatures[1] - 22);
    // half a second at 100 W; what the last node lost to the air is still a trifle
    expect(stored).toBeGreaterThan(49.9);
    expect(stored).toBeLessThanOrEqual(50);
  });
});

describe('simulated run', () => {
  it('is the same for the same seed, and another for another', () => {
    const log = (seed: number) => writeLog(simulateRun(NORTH_BENCH, { ...base, seed }), 1780300800);
    expect(log(3)).toBe(log(3));
    expect(log(3)).not.toBe(log(4));
  });
  it('throttles at the limit, loses clock and power, and flags it', () => {
    const samples = simulateRun(NORTH_BENCH, { ...base, interface_k_per_w: 0.4 });
    const late = samples.filter((s) => s.t > 1000 && s.t < 1500);
    expect(late.every((s) => s.throttling)).toBe(true);
    expect(Math.max(...late.map((s) => s.sensors[0]))).toBeLessThan(NORTH_BENCH.limit_c + 1.5);
    expect(late[0].clock).toBeLessThan(0.97 * NORTH_BENCH.clock_mhz);
    expect(simulateRun(NORTH_BENCH, base).some((s) => s.throttling)).toBe(false);
  });
  it('writes a log that is read as it was meant', () => {
    const log = readLog('sim.csv', new TextEncoder().encode(writeLog(simulateRun(NORTH_BENCH, base), 1780300800)));
    expect(log.time).toMatchObject({ format: 'iso', start_epoch_s: 1780300800 });
    expect(log.columns.map((c) => c.role)).toEqual([
      'sensor',
      'sensor',
      'sensor',
      'sensor',
      'ambient',
      'power',
      'clock',
      'fan',
      'throttle',
    ]);
  });
});

describe('the demo', () => {
  const runs = demoRuns();
  it('has five mounts of every material, two or three runs each, every file once', () => {
    expect(new Set(runs.map((r) => `${r.specimen}/${r.mount}`)).size).toBe(MATERIALS.length * MOUNTS);
    expect(new Set(runs.map((r) => r.file)).size).toBe(runs.length);
    expect(runs).toHaveLength(96);
  });
  it('keeps the runs of a mount in their order', () => {
    for (const m of MATERIALS) {
      const order = runs.filter((r) => r.specimen === m.name && r.mount === 1).map((r) => r.run);
      expect(order).toEqual([1, 2, 3]);
    }
  });
  it('is the same every time', () => {
    expect(demoRuns()).toEqual(runs);
  });
});
