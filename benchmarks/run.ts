/**
 * Speed, measured as ratios inside one run so that the figures mean something on any machine:
 * each task against a plain piece of work on the same data.
 */
import { analyse } from '#core/compare/analyse';
import { mountsCurve, mountsForMargin } from '#core/design/mountsCurve';
import { drawOrder } from '#core/design/order';
import { rehearse } from '#core/design/rehearse';
import type { PlannedComparison } from '#core/design/types';
import { measureImprint } from '#core/image/measureImprint';
import type { Corners } from '#core/image/types';
import { reduceLogs } from '#core/signal/reduce/reduceLogs';
import { seededRandom } from '#core/stats/random';
import type { PlanContext } from '#features/study/model/context';
import { answerPlan } from '#features/study/model/planAnswer';
import { photograph, someScene } from '#simulator/photograph';
import { NORTH_BENCH } from '#simulator/rigs';
import { simulateRun } from '#simulator/simulateRun';
import { noteTarget } from './targets';

const ROUNDS = 9;

/** Reads every pixel once: the least that any measurement of a photograph can take. */
function touchEvery(data: Uint8ClampedArray): number {
  let sum = 0;
  for (let i = 0; i < data.length; i++) sum += data[i];
  return sum;
}

/** Median time of a piece of work in ms, after one round to warm up. */
function time(work: () => unknown): number {
  work();
  const times = Array.from({ length: ROUNDS }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  });
  return times.sort((a, b) => a - b)[(ROUNDS - 1) / 2];
}

function report(task: string, ms: number, baseline: string, baseMs: number, target: string): void {
  console.log(
    `${task}\n  ${ms.toFixed(1)} ms, ${(ms / baseMs).toFixed(1)} × ${baseline} (${baseMs.toFixed(1)} ms)${target ? `; target ${target}` : ''}`,
  );
}

/** An hour at 1 Hz with 12 channels: four dies, two rooms, power, clock, fan, load, noise, throttle. */
function hourLog(): string {
  const samples = simulateRun(NORTH_BENCH, {
    interface_k_per_w: 0.06,
    idle_s: 600,
    load_s: 2400,
    cooldown_s: 600,
    period_s: 1,
    room_c: 22,
    room_drift_k_per_h: 0.2,
    warm_start_k: 0,
    seed: 1,
  });
  const head =
    'Time,Die 1 (°C),Die 2 (°C),Die 3 (°C),Die 4 (°C),Ambient 1 (°C),Ambient 2 (°C),Power (W),Clock (MHz),Fan (RPM),Load (%),Sound level (dB),Throttling';
  const rows = samples.map((s) => {
    const at = new Date(1780300800000 + Math.round(1000 * s.t)).toISOString().replace('T', ' ').replace('Z', '');
    return [
      at,
      ...s.sensors.map((v) => v.toFixed(1)),
      s.ambient.toFixed(2),
      (s.ambient + 0.1).toFixed(2),
      s.power.toFixed(1),
      s.clock,
      s.fan,
      s.power > 50 ? 100 : 1,
      '31.2',
      0,
    ].join(',');
  });
  return `${[head, ...rows].join('\n')}\n`;
}

const text = hourLog();
const bytes = new TextEncoder().encode(text);
const parsing = time(() =>
  text
    .split('\n')
    .map((line) => line.split(',').map(Number))
    .reduce((n, row) => n + row.length, 0),
);
const reducing = time(() => reduceLogs([{ name: 'hour.csv', bytes }], {}, { limit_c: 92 }));
report(
  `Reduce an hour at 1 Hz × 12 channels (${(bytes.length / 1024).toFixed(0)} kB)`,
  reducing,
  'splitting the same text into numbers',
  parsing,
  '',
);

const random = seededRandom(40);
const rows = Array.from({ length: 40 }, (_, s) =>
  Array.from({ length: 10 }, (_, m) => {
    const mount = 40 + 0.2 * s + 0.5 * random.normal();
    return Array.from({ length: 3 }, (_, r) => ({
      specimen: `S${s}`,
      mount: String(m),
      run: String(r),
      value: mount + 0.15 * random.normal(),
    }));
  }),
).flat(2);
const copying = time(() => JSON.parse(JSON.stringify(rows)));
const comparing = time(() => analyse(rows));
report(
  'Compare 40 specimens × 10 mounts × 3 runs, both schools, 780 pairs, scatter, letters',
  comparing,
  'writing and reading the rows as JSON',
  copying,
  'under 250 ms',
);
noteTarget('compare', `${comparing.toFixed(0)} ms`, comparing / 250);

const comparison: PlannedComparison = {
  ...{ specimens: 8, runs: 3, mount_sd: 0.5, run_sd: 0.15, margin: 1, confidence: 0.95, power: 0.8 },
  ...{ family: 'all', scatter: 'auto' },
};
const eightByFive = analyse(rows.filter((r) => Number(r.specimen.slice(1)) < 8 && Number(r.mount) < 5));
const comparingOne = time(() => JSON.parse(JSON.stringify(eightByFive)));
let keystroke = 0;
const curve = time(() => {
  const plan = { ...comparison, margin: 1 + 0.01 * keystroke++ };
  mountsCurve(plan);
  mountsForMargin(plan);
});
report(
  'Curve of 2 to 12 mounts with the mounts needed',
  curve,
  'writing and reading one analysis of 8 × 5 as JSON',
  comparingOne,
  'under 100 ms',
);

const began = performance.now();
const specimens = Array.from({ length: 8 }, (_, i) => ({ specimen: `S${i + 1}`, rise_k: 40 + 0.5 * i, mounts: 5 }));
rehearse(
  { ...comparison, specimens, day_sd: 0, block: null, rigs: 1, failure: 0, limit_rise_k: null, looks: [], mount_min: 25, run_min: 40 },
  2000,
  1,
);
const rehearsing = performance.now() - began;
noteTarget('rehearse', `${(rehearsing / 1000).toFixed(1)} s`, rehearsing / 10_000);
report(
  'Rehearse 2,000 plans of 8 × 5 × 3',
  rehearsing,
  'writing and reading one analysis of 8 × 5 as JSON',
  comparingOne,
  'under 10 s on one core',
);

const order = {
  specimens: Array.from({ length: 12 }, (_, i) => ({ specimen: `S${i + 1}`, mounts: 6, wait_min: i === 5 ? 120 : 0, last: i > 9 })),
  ...{ reference: 'S1', runs: 1, mount_min: 25, run_min: 40, day_min: 600, rigs: ['North', 'South'], day_starts_min: [], days: 10 },
};
const ordering = time(() => drawOrder(order, 1));
report(
  'Order of 12 specimens × 6 mounts on 2 rigs',
  ordering,
  'writing and reading one analysis of 8 × 5 as JSON',
  comparingOne,
  'under 2 s',
);

const context: PlanContext = {
  specimens: order.specimens.map((s, i) => ({
    ...{
      id: i + 1,
      name: s.specimen,
      kind: 'paste' as const,
      position: i,
      material: null,
      cooler: null,
      plan: {},
      made: 0,
      made_mounts: [],
      stock_left: null,
    },
    ...{ cost: 1, currency: 'EUR' },
  })),
  rigs: order.rigs.map((name, i) => ({
    id: i + 1,
    name,
    sheet: { throttle_limit_c: 92 },
    cooler: null,
    instruments: [],
    coupons_left: null,
  })),
  history: [],
  today: '2026-06-01',
};
const drawn = drawOrder(order, 1)?.mounts ?? [];
let stroke = 0;
const answering = time(() => {
  answerPlan({ reference_id: 1, rigs: [1, 2], mounts: 6, start_on: '2026-06-02', margin_k: 1 + 0.01 * stroke++ }, context, drawn, []);
});
report(
  'All the plan place computes at a keystroke: 12 specimens × 6 mounts on 2 rigs',
  answering,
  'writing and reading one analysis of 8 × 5 as JSON',
  comparingOne,
  'under 100 ms',
);

const scene = someScene(4);
const photo = photograph(scene, 4000, 3000);
const { length_mm, width_mm, mirrored } = scene;
const reading = { length_mm, width_mm, mirrored, face_goes_on: false, threshold: null, swapped: false };
report(
  'Print of a photograph of 12 megapixels',
  time(() => measureImprint(photo, { ...reading, corners: photo.corners as Corners })),
  'reading every pixel once',
  time(() => touchEvery(photo.data)),
  'under 2 s',
);
