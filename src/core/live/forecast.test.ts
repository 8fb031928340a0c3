import { describe, expect, it } from 'vitest';
import { reduceLogs } from '#core/signal/reduce/reduceLogs';
import { seededRandom } from '#core/stats/random';
import type { SimulatedRig } from '#simulator/rigs';
import { NORTH_BENCH } from '#simulator/rigs';
import { simulateRun } from '#simulator/simulateRun';
import { writeLog } from '#simulator/writeLog';
import { forecastSteady } from './forecast';

const options = { window_s: 120, slope_k_per_min: 0.2 };
const RUNS = 100;

/** Runs of rigs that differ in every capacity and resistance, in noise, sampling and room; each with when it was truly steady. */
function* runs(seed: number) {
  const random = seededRandom(seed);
  for (let i = 0; i < RUNS; i++) {
    const scale = Math.exp(random.uniform() - 0.3);
    const sink = Math.exp(1.2 * (random.uniform() - 0.4));
    const ladder = NORTH_BENCH.ladder.map((n, k) => ({
      capacity: n.capacity * scale * (k === 3 ? sink : 1),
      resistance: n.resistance * Math.exp(0.3 * (random.uniform() - 0.5)),
    }));
    const rig: SimulatedRig = { ...NORTH_BENCH, ladder, limit_c: 200 };
    const run = {
      ...{ interface_k_per_w: 0.03 + 0.06 * random.uniform(), idle_s: 60, load_s: 2000, cooldown_s: 60, period_s: 1 + (i % 2), room_c: 22 },
      ...{ room_drift_k_per_h: 0.3 * random.normal(), warm_start_k: 0, seed: 700 + i },
    };
    const text = writeLog(simulateRun(rig, run), 1_780_300_800);
    const { reduction, rise } = reduceLogs([{ name: 'run.csv', bytes: new TextEncoder().encode(text) }], {}, {});
    const start = reduction.stages.find((s) => s.stage === 'sustained')?.start_s;
    if (!rise || start === undefined || reduction.steady_at_s === null) continue;
    yield { rise, start, settling: reduction.steady_at_s - start };
  }
}

describe('the forecast of when a run will be steady', () => {
  it('at half the settling time holds the true time in its 95 % interval in at least 90 of 100, with a median error under 20 %', () => {
    let held = 0;
    const errors: number[] = [];
    for (const { rise, start, settling } of runs(21)) {
      const from = rise.t.findIndex((t) => t >= start);
      const to = rise.t.findIndex((t) => t > start + settling / 2);
      const forecast = forecastSteady(
        rise.t.slice(from, to).map((t) => t - start),
        rise.values.slice(from, to),
        null,
        options,
      );
      if (!forecast) continue;
      if (forecast.low_s <= settling && settling <= forecast.high_s) held++;
      errors.push(Math.abs(forecast.steady_s - settling) / settling);
    }
    errors.sort((a, b) => a - b);
    expect(errors.length).toBeGreaterThan(95);
    expect(held).toBeGreaterThanOrEqual(90);
    expect(errors[Math.floor(errors.length / 2)]).toBeLessThan(0.2);
  });

  const t = Float64Array.from({ length: 300 }, (_, i) => i);
  const random = seededRandom(2);
  const noisy = (f: (s: number) => number, sd = 0.05) => t.map((s) => f(s) + sd * random.normal());
  it('finds the end of one exponential, and when its window is flat enough', () => {
    const tau = 100;
    const forecast = forecastSteady(
      t,
      noisy((s) => 40 - 30 * Math.exp(-s / tau)),
      null,
      options,
    );
    expect(forecast?.end?.k).toBeCloseTo(40, 0);
    expect((forecast?.low_s ?? 0) < (forecast?.steady_s ?? 0) && (forecast?.steady_s ?? 0) < (forecast?.high_s ?? 0)).toBe(true);
    // slope of the course at the middle of the window: 30/τ·e^(−t/τ) = 0.2 K/min, a little less for the noise
    expect(forecast?.steady_s).toBeGreaterThan(60 + tau * Math.log((60 * 30) / tau / 0.2) - 15);
    expect(forecast?.steady_s).toBeLessThan(60 + tau * Math.log((60 * 30) / tau / 0.2) + 90);
  });
  it('follows a course that comes from above', () => {
    const forecast = forecastSteady(
      t,
      noisy((s) => 38 + 6 * Math.exp(-s / 90)),
      null,
      options,
    );
    expect(forecast?.end?.k).toBeCloseTo(38, 0);
  });
  it('holds the end in its interval once the course bends, and says nothing before', () => {
    const y = noisy((s) => 40 - 30 * Math.exp(-s / 90));
    for (const n of [220, 300]) {
      const f = forecastSteady(t.slice(0, n), y.slice(0, n), null, options);
      expect(Math.abs((f?.end?.k ?? 0) - 40), String(n)).toBeLessThan(1);
      expect((f?.end?.low_k ?? 99) < 40.1 && (f?.end?.high_k ?? 0) > 39.9, String(n)).toBe(true);
    }
    expect(forecastSteady(t.slice(0, 40), y.slice(0, 40), null, options)).toBeNull();
  });
  it('says nothing of a handful of readings', () => {
    expect(forecastSteady(t.subarray(0, 10), t.subarray(0, 10), null, options)).toBeNull();
  });
});
