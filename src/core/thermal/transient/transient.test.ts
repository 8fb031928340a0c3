import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CourseResponse } from '#core/signal/course/courseResponse';
import { logBins } from '#core/signal/course/logBins';
import { nonNegativeLeastSquares } from '#core/stats/nonNegativeLeastSquares';
import { type StepLog, stepLog } from '../../../../tests/stepLog';
import { type CauerLadder, cauerLadder } from './cauer';
import { fosterChain } from './fosterFromLadder';
import { partingOf } from './parting';
import { readTransient, type TransientReading } from './structure';

const LADDERS: CauerLadder[] = [
  { R: [0.06, 0.08, 0.16], C: [12, 90, 420] },
  { R: [0.12, 0.05, 0.2], C: [20, 150, 600] },
  { R: [0.05, 0.1, 0.05, 0.15], C: [6, 40, 150, 700] },
  { R: [0.1, 0.3], C: [30, 500] },
];
const upTo = (R: number[]) => R.map((_, i) => R.slice(0, i + 1).reduce((a, b) => a + b, 0));

const read = (
  ladder: CauerLadder,
  given: StepLog = {},
  step: 'heating' | 'cooling' = 'heating',
  power_w: number | null = null,
): TransientReading => readTransient(stepLog(ladder, given), { step, sensor: null, power_w });
const codes = ({ findings }: TransientReading) => findings.map((f) => `${f.severity} ${f.code}`);

describe('what a step tells', () => {
  it.each(LADDERS.flatMap((l) => [1, 2].map((seed) => [l.R.join(' + '), seed, l] as const)))(
    'of the ladder %s (seed %i) finds every boundary within a tenth at 0.1 K of scatter and steps of 0.1 K',
    (_, seed, ladder) => {
      // a layer of a quarter second needs twenty readings a second
      const { structure, findings } = read(ladder, { seed, interval_s: ladder.R.length === 4 ? 0.05 : 0.1 });
      expect(findings).toEqual([]);
      expect(structure?.layers).toHaveLength(ladder.R.length);
      upTo(ladder.R).forEach((truth, i) => {
        const { value, se } = structure?.layers[i].until ?? { value: Number.NaN, se: Number.NaN };
        expect(Math.abs(value / truth - 1), `boundary ${i + 1}`).toBeLessThan(0.1);
        expect(Math.abs(value - truth), `boundary ${i + 1} in its errors`).toBeLessThan(4.5 * se);
      });
    },
  );
  it('is the same of heating and of cooling', () => {
    const cooling = read(LADDERS[0], { cooling_s: 1200, heating_s: 900 }, 'cooling').structure;
    upTo(LADDERS[0].R).forEach((truth, i) => {
      expect(Math.abs((cooling?.layers[i].until.value ?? 0) / truth - 1)).toBeLessThan(0.1);
    });
  });
  it('has a whole that its smooth curve ends at within a fiftieth', () => {
    const { structure } = read(LADDERS[0]);
    expect(structure?.curve.every((p, i) => i === 0 || (p.r > (structure.curve[i - 1].r ?? 0) && p.c > structure.curve[i - 1].c))).toBe(
      true,
    );
    expect(Math.abs((structure?.spectrum.R ?? []).reduce((a, b) => a + b, 0) / 0.3 - 1)).toBeLessThan(0.02);
  });
});

describe('two mounts over each other', () => {
  const mountOf = (ladder: CauerLadder, seed: number) => read(ladder, { seed }).mount as NonNullable<TransientReading['mount']>;
  it.each(LADDERS.slice(0, 3).map((l) => [l.R.join(' + '), l] as const))(
    'of the ladder %s part within a twentieth of the whole from where one layer differs',
    (_, ladder) => {
      const first = mountOf(ladder, 4);
      ladder.R.forEach((r, k) => {
        const second = mountOf({ R: ladder.R.map((v, i) => (i === k ? 1.3 * r : v)), C: ladder.C }, 40 + k);
        const parting = partingOf(first, second);
        const truth = k === 0 ? 0 : upTo(ladder.R)[k - 1];
        expect(parting?.kind, `layer ${k}`).toBe('one_layer');
        expect(Math.abs((parting?.at?.value ?? Number.NaN) - truth), `layer ${k}`).toBeLessThan(0.05 * upTo(ladder.R)[ladder.R.length - 1]);
        expect(parting?.is_last).toBe(k === ladder.R.length - 1);
        expect(Math.abs((parting?.more?.value ?? Number.NaN) - 0.3 * r)).toBeLessThan(0.002);
      });
    },
  );
  it('are alike where nothing but their scatter differs', () => {
    for (const [k, ladder] of LADDERS.entries()) expect(partingOf(mountOf(ladder, 60 + k), mountOf(ladder, 70 + k))?.kind).toBe('alike');
  });
  it('part from where another cooler begins', () => {
    const [ladder] = LADDERS;
    const other = { R: [0.06, 0.1, 0.22], C: [12, 90, 250] };
    const parting = partingOf(mountOf(ladder, 5), mountOf(other, 6));
    expect(parting?.kind).toBe('from_here_on');
    expect(Math.abs((parting?.at?.value ?? Number.NaN) - 0.06)).toBeLessThan(0.015);
    expect(parting?.more?.value).toBeCloseTo(0.08, 2);
  });
  it('of bodies that are no single nodes part near the place', () => {
    // a die, a lid and a base of many slices each; the interface between lid and base differs
    const body = (interface_: number): CauerLadder => {
      const slices: [number, number, number, number][] = [
        [5, 0.02, 3, 0.05],
        [10, 0.03, 25, interface_],
        [20, 0.02, 600, 0.2],
      ];
      const R = slices.flatMap(([n, r, , beyond]) => Array.from({ length: n }, (_, i) => r / n + (i === n - 1 ? beyond : 0)));
      return { R, C: slices.flatMap(([n, , c]) => Array.from({ length: n }, () => c / n)) };
    };
    const parting = partingOf(mountOf(body(0.06), 1), mountOf(body(0.09), 51));
    expect(parting?.kind).toBe('one_layer');
    expect(parting?.is_last).toBe(false);
    // half of the lid's own resistance is counted to either side
    expect(Math.abs((parting?.at?.value ?? Number.NaN) - 0.1)).toBeLessThan(0.03);
  });
});

describe('what no bench is without', () => {
  const [ladder] = LADDERS;
  const held = (given: StepLog) => {
    const { structure } = read(ladder, given);
    return [
      ...(structure?.layers.map((l, i) => (l.r.value - ladder.R[i]) / l.r.se) ?? []),
      ((structure?.total?.value ?? Number.NaN) - 0.3) / (structure?.total?.se ?? 1),
    ];
  };
  it.each<[string, StepLog]>([
    ['a power that takes two seconds to rise', { ramp_s: 2 }],
    ['a power that rises as a supply does, with scatter of its meter', { lag_s: 0.7, powerNoise_w: 1 }],
    ['3 K left of an earlier load', { rest_k: 3 }],
    ['a start 3 K too cold, and a ramp', { rest_k: -3, ramp_s: 1.3 }],
    ['scatter far under the steps of the sensor', { noise_k: 0.01 }],
    ['readings that hang on each other', { carried: 0.7 }],
    ['a power that drifts by a twentieth', { powerMoves: 0.05 }],
  ])('makes no false layer: %s', (_, given) => {
    const off = held(given);
    expect(off).toHaveLength(4);
    for (const z of off) expect(Math.abs(z)).toBeLessThan(4);
  });
  it('refuses what no ladder follows, such as a room that was not logged beside the part', () => {
    const trace = stepLog(ladder, {});
    const die = trace.channels[0];
    const gust = die.values.map((v, i) => v + (die.t[i] > 300 ? 1.5 * Math.sin(die.t[i] / 20) : 0));
    const channels = trace.channels.map((c) => (c === die ? { ...c, values: gust, clean: gust } : c));
    const reading = readTransient({ ...trace, channels }, { step: 'heating', sensor: null, power_w: null });
    expect(codes(reading)).toEqual(['refuse does_not_fit']);
  });
  it('tells neither whole nor last layer where the log ends before the temperature does', () => {
    const { structure } = read(ladder, { heating_s: 120 });
    expect(structure?.total).toBeNull();
    const last = structure?.layers.at(-1);
    expect(last?.least).toBeGreaterThan(0);
    expect(last?.least).toBeLessThan(0.16);
  });
  it('parts two mounts whose powers rise and whose starts differ where one layer does', () => {
    const mountOf = (l: CauerLadder, given: StepLog) => read(l, given).mount as NonNullable<TransientReading['mount']>;
    const first = mountOf(ladder, { seed: 3, ramp_s: 0.4, rest_k: 2 });
    const other = { R: [0.06, 0.1, 0.16], C: ladder.C };
    const parting = partingOf(first, mountOf(other, { seed: 4, ramp_s: 1.8, rest_k: -1 }));
    expect(parting?.kind).toBe('one_layer');
    expect(Math.abs((parting?.at?.value ?? Number.NaN) - 0.06)).toBeLessThan(0.01);
    expect(partingOf(first, mountOf(ladder, { seed: 5, ramp_s: 1.5, rest_k: -2 }))?.kind).toBe('alike');
  });
});

describe('what stands in the way', () => {
  const fast: CauerLadder = { R: [0.15, 0.05, 0.15], C: [2, 60, 400] };
  it('refuses a log that is too slow, and says how fast it should be', () => {
    const reading = read(fast, { interval_s: 2 });
    expect(codes(reading)).toEqual(['refuse too_slow']);
    expect(reading.structure).toBeNull();
    expect(reading.findings[0].sentence).toMatch(/Logged every 2\.0 s, [45]\d % of the rise .* Log every 0\.2 s or faster/);
  });
  it('tells layers that answer within three readings as one', () => {
    const reading = read(LADDERS[2]);
    expect(codes(reading)).toEqual(['warn dark_part']);
    expect(reading.structure?.layers).toHaveLength(3);
    expect(Math.abs((reading.structure?.layers[0].r.value ?? 0) - 0.15)).toBeLessThan(0.015);
  });
  it('refuses one that is too coarse, and warns of one that nearly is', () => {
    expect(codes(read(LADDERS[0], { resolution_k: 2 }))).toEqual(['refuse too_coarse']);
    expect(codes(read(LADDERS[0], { resolution_k: 0.5 }))).toContain('warn coarse');
  });
  it('reads only what comes before the fan changes', () => {
    const reading = read(LADDERS[0], { fan: (s) => (s > 300 ? 1500 : 1000) });
    expect(codes(reading)).toContain('warn fan_moves');
    expect(reading.findings[0].sentence).toMatch(/from 1000 to 1500 rpm, 30\d s after the step/);
    expect(reading.step?.t.at(-1)).toBeLessThan(310);
    expect(Math.abs((reading.structure?.layers[0].until.value ?? 0) / 0.06 - 1)).toBeLessThan(0.1);
    expect(codes(read(LADDERS[0], { fan: (s) => (s > 2 ? 1500 : 1000) }))).toEqual(['warn fan_moves', 'refuse few_samples']);
  });
  it('warns of a power that moves, and refuses one that is not held at all', () => {
    expect(codes(read(LADDERS[0], { powerMoves: 0.05 }))).toContain('warn power_moves');
    expect(codes(read(LADDERS[0], { powerMoves: 0.3 }))).toContain('refuse power_moves');
  });
  it('asks for the power where none was logged', () => {
    const without = { powerLogged: false };
    expect(codes(read(LADDERS[0], without))).toEqual(['refuse no_power']);
    expect(codes(read(LADDERS[0], without, 'heating', 140))).toEqual(['warn power_unlogged']);
    const typed = read(LADDERS[0], without, 'heating', 140).structure;
    expect(Math.abs((typed?.total?.value ?? 0) / 0.3 - 1)).toBeLessThan(0.02);
  });
  it('says that a log ends too early, or holds no such step', () => {
    expect(codes(read(LADDERS[0], { heating_s: 120 }))).toContain('warn not_at_end');
    expect(codes(read(LADDERS[0], {}, 'cooling'))).toEqual(['refuse no_step']);
    expect(codes(read(LADDERS[0], { power_w: 0 }))).toEqual(['refuse no_step']);
    expect(codes(read(LADDERS[0], { interval_s: 30 }))[0]).toBe('refuse few_samples');
  });
});

describe('its parts', () => {
  it('means over bins are those of the samples, evenly spaced or one by one, of a power that rises, holds and drifts', () => {
    const course = { t: Float64Array.of(0, 2, 100, 300), share: Float64Array.of(0, 1, 0.9, 1.1) };
    const t = Float64Array.from({ length: 4000 }, (_, i) => (i + 0.5) * 0.1);
    const tau = 7;
    // by the body's own difference equation in fine steps
    const power = (x: number) => {
      const k = course.t.findIndex((b) => b > x);
      if (k < 0) return 1.1;
      return course.share[k - 1] + ((x - course.t[k - 1]) / (course.t[k] - course.t[k - 1])) * (course.share[k] - course.share[k - 1]);
    };
    let [y, x] = [0, 0];
    const values = t.map((end) => {
      for (; x < end - 1e-9; x += 0.001) y += (0.001 / tau) * (power(x + 0.0005) - y);
      return y;
    });
    const bins = logBins(t, values);
    expect(bins.count.reduce((a, b) => a + b, 0)).toBe(4000);
    new CourseResponse(bins, course).at(tau).forEach((v, i) => {
      expect(v).toBeCloseTo(bins.mean[i], 3);
    });
  });
  it('answers of a time constant next to nothing stay finite, wherever a shift puts the readings', () => {
    const course = { t: Float64Array.of(0, 0.1, 5, 30), share: Float64Array.of(0, 1, 0.9, 1) };
    const t = Float64Array.from({ length: 600 }, (_, i) => (i + 1) * 0.1);
    const response = new CourseResponse(logBins(t, t), course);
    for (const shift of [-0.2, -0.03, 0, 0.03, 0.2])
      for (const v of response.at(1e-11, shift)) {
        expect(v).toBeGreaterThanOrEqual(0);
        expect(v).toBeLessThan(1.2);
      }
  });
  it('least squares without negative coefficients leaves no way to do better', () => {
    const value = fc.double({ min: -3, max: 3, noNaN: true });
    const scale = fc.constantFrom(1e-4, 1, 1e5);
    fc.assert(
      fc.property(fc.array(fc.tuple(value, value, value, value, value), { minLength: 8, maxLength: 20 }), scale, (rows, size) => {
        const columns = [0, 1, 2, 3].map((j) => Float64Array.from(rows, (r) => r[j]));
        const y = Float64Array.from(rows, (r) => size * r[4]);
        const { coefficients } = nonNegativeLeastSquares(columns, y);
        const rest = y.map((v, i) => v - columns.reduce((sum, c, j) => sum + c[i] * coefficients[j], 0));
        columns.forEach((c, j) => {
          const slope = c.reduce((sum, v, i) => sum + v * rest[i], 0) / size;
          expect(coefficients[j]).toBeGreaterThanOrEqual(0);
          // the conditions of Karush, Kuhn and Tucker
          if (coefficients[j] > 0) expect(Math.abs(slope)).toBeLessThan(1e-6);
          else expect(slope).toBeLessThan(1e-6);
        });
      }),
    );
  });
  it('a ladder and its chain are one', () => {
    for (const ladder of LADDERS) {
      const again = cauerLadder(fosterChain(ladder));
      ladder.R.forEach((r, i) => {
        expect(again.R[i] / r).toBeCloseTo(1, 9);
        expect(again.C[i] / ladder.C[i]).toBeCloseTo(1, 9);
      });
    }
  });
});
