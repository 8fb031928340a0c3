import type { Load } from '#features/study/model/loads';
import type { HeldItem } from '#features/study/model/studyPlan';
import { NORTH_BENCH } from '#simulator/rigs';
import type { DemoStudy } from './demoStudy';
import { MATERIALS, MOUNTS } from './studyOne';

/** The studies of the workshop with their plans. */

const CORRELATE: Load = {
  name: 'Correlate',
  program: 'correlate',
  version: '2.4',
  settings: 'all channels, fixed clock',
  threads: 64,
  scene: 'calibrator field, from its start',
  steps: [
    { stage: 'idle', minutes: 4, power_w: 14 },
    { stage: 'load', minutes: 20, power_w: 140, clock_mhz: 2100, fan_rpm: 1200 },
    { stage: 'cool_down', minutes: 14 },
  ],
};

const HELD: HeldItem[] = [
  { what: 'Load', value: '140 W', tolerance: '± 1 %' },
  { what: 'Clock', value: '2100 MHz, boost off' },
  { what: 'Fan', value: '1200 rpm', tolerance: '± 2 %' },
  { what: 'Screws', value: '2 × M3 to 0.6 N·m, three rounds', tolerance: '± 0.05 N·m' },
  { what: 'Room', value: '21 to 25 °C' },
];

const REDUCTION = { power_w: NORTH_BENCH.load_w, fan_rpm: NORTH_BENCH.fan_rpm, clock_mhz: NORTH_BENCH.clock_mhz };
/** the fan speed is what varies */
const SWEEP_REDUCTION = { power_w: NORTH_BENCH.load_w, clock_mhz: NORTH_BENCH.clock_mhz };
const COST = { currency: 'EUR', consumables: 0.6, hour_rate: 38 };
const ROOM = { coldest_c: 19, warmest_c: 28, drift_k: 1, power_tolerance_pct: 1, fan_tolerance_pct: 2 };
/** about K/W from sensor to room over the whole stack, for the headroom */
const stack = (interfaceKPerW: number) => Number((0.235 + interfaceKPerW).toFixed(3));

export const EIGHT_MATERIALS: DemoStudy = {
  title: 'Eight materials on the TM-6 lid',
  question: 'Which material should go between the lid of the TM-6 correlator card and its cooler before the summer?',
  margin_k: 1,
  reduction: REDUCTION,
  rigs: ['North bench'],
  specimens: MATERIALS.map((m) => ({
    name: m.name,
    kind: m.kind,
    material: m.name,
    plan: { rise_k: Number((140 * stack(m.resistance)).toFixed(1)), k_per_w: stack(m.resistance) },
  })),
  plan: {
    ...{
      varies: 'material',
      design: 'one_factor',
      mounts: MOUNTS,
      runs: 3,
      mount_min: 25,
      seed: 60,
      start_on: '2026-06-04',
      start_time: '07:30',
      day_hours: 12,
    },
    ...{ loads: [CORRELATE], held: HELD, failure_pct: 3, day_sd: 0.1, ...ROOM, ...COST, tools: 24 },
    outcomes: [
      { key: 'rise', margin: 1 },
      { key: 'r_k_per_w', margin: 0.007 },
      { key: 'spread', margin: 1 },
    ],
    alternative: 'a Hush 120 for each of the three huts',
    alternative_price: 63,
  },
};

/** The study that is half way through. */
export const SOUTH_HUT: DemoStudy = {
  title: 'Four fillers for the south hut',
  question: 'Does Wick 60 stay ahead on the south hut’s card, and is a pad good enough where nobody wants to clean up paste?',
  margin_k: 1,
  reduction: REDUCTION,
  rigs: ['South bench'],
  specimens: ['Loam White', 'Bramble 5', 'Wick 60', 'Slip Felt 0.5'].map((name) => {
    const m = MATERIALS.find((x) => x.name === name) ?? MATERIALS[0];
    return { name, kind: m.kind, material: name, plan: { k_per_w: stack(m.resistance), ...(name === 'Wick 60' ? { wait_h: 0.5 } : {}) } };
  }),
  plan: {
    ...{
      varies: 'material',
      design: 'one_factor',
      mounts: 6,
      runs: 2,
      mount_min: 20,
      seed: 12,
      start_time: '08:30',
      day_hours: 9,
      looks: [3, 5],
    },
    ...{
      loads: [{ ...CORRELATE, steps: [CORRELATE.steps[0], CORRELATE.steps[1], { stage: 'cool_down', minutes: 10 }] }],
      held: HELD,
      ...ROOM,
      ...COST,
    },
  },
};

/** The card that throttled in the hut: measured as found, refurbished, measured again. */
export const HUT_CARD: DemoStudy = {
  title: 'An old hut card, before and after',
  question: 'What did cleaning and fresh filler do for a card that throttled in the hut?',
  margin_k: 2,
  reduction: {},
  rigs: ['South bench'],
  specimens: [
    { name: 'As found', kind: 'state', plan: { unit: 'TM6-0041', fixed: true } },
    { name: 'Refurbished', kind: 'state', material: 'Bramble 5', plan: { unit: 'TM6-0041', effort_min: 90, tools: 12 } },
  ],
  plan: {
    ...{
      design: 'before_after',
      varies: 'state',
      mounts: 3,
      runs: 3,
      seed: 41,
      start_on: '2026-09-07',
      loads: [CORRELATE],
      ...ROOM,
      ...COST,
    },
    fan_school: 'automatic',
    held: [{ what: 'Unit', value: 'TM6-0041, hut panels shut' }],
    outcomes: [
      { key: 'rise', margin: 2 },
      { key: 'r_k_per_w', margin: 0.014 },
      { key: 'clock', margin: 25 },
      { key: 'score', margin: 10 },
      { key: 'throttle_share', margin: 2 },
    ],
  },
};

/** Four coolers over their fan speeds, each mount a sweep with a sound meter beside it. */
export const COOLERS_AT_NOISE: DemoStudy = {
  title: 'Coolers at equal noise',
  question: 'Which cooler keeps the card coolest at the 32 dB(A) that the observers’ room allows?',
  margin_k: 1.5,
  reduction: SWEEP_REDUCTION,
  rigs: ['North bench'],
  specimens: ['Heron', 'Plover', 'Low Otter', 'Weir 240'].map((cooler) => ({
    name: cooler,
    kind: 'cooler',
    material: 'Loam White',
    cooler,
  })),
  plan: {
    ...{
      varies: 'cooler',
      fan_school: 'noise',
      ...{
        noise_floor_db: 24,
        noise_distance_m: 1,
        noise_at_m: 1,
        noise_target_db: 32,
        noise_weighting: 'A',
        noise_room: 'workshop at night, 6 × 5 m, nothing else on',
      },
      ...{ fit_enclosure: 'hut bay', fit_height_mm: 150, fit_mass_g: 1200 },
      mounts: 3,
      runs: 4,
      mount_min: 45,
      seed: 4,
      start_on: '2026-09-14',
      loads: [CORRELATE],
      ...ROOM,
      ...COST,
    },
    held: [
      { what: 'Fan', value: '700, 950, 1250 and 1600 rpm on every mount', tolerance: '± 2 %' },
      { what: 'Material', value: 'Loam White, 0.35 g' },
      { what: 'Load', value: '140 W', tolerance: '± 1 %' },
    ],
    outcomes: [
      { key: 'rise', margin: 1.5 },
      { key: 'noise', margin: 1 },
      { key: 'fan_speed', margin: 50 },
    ],
  },
};

/** Two towers, each with two fans. */
export const TWO_TOWERS: DemoStudy = {
  title: 'Two towers, two fans',
  question: 'Is it the heatsink of Heron or its fan that makes the difference to Plover?',
  margin_k: 1.5,
  reduction: REDUCTION,
  rigs: ['North bench'],
  specimens: ['Heron', 'Plover'].flatMap((cooler) =>
    ['Gale 120', 'Hush 120'].map((fan) => ({
      name: `${cooler} with ${fan}`,
      kind: 'cooler' as const,
      material: 'Loam White',
      cooler,
      plan: { level_a: cooler, level_b: fan },
    })),
  ),
  plan: {
    ...{
      design: 'two_by_two',
      varies: 'cooler',
      second_factor: 'fan',
      mounts: 4,
      runs: 1,
      mount_min: 45,
      seed: 22,
      start_on: '2026-09-21',
      loads: [CORRELATE],
      ...ROOM,
      ...COST,
    },
    held: [
      { what: 'Fan', value: '1200 rpm', tolerance: '± 2 %' },
      { what: 'Material', value: 'Loam White, 0.35 g' },
    ],
  },
};

/** Two materials followed over sixty days, every mount left as it is between its measurements. */
export const SIXTY_DAYS: DemoStudy = {
  title: 'Sixty days of Wick 60 and Bramble 5',
  question: 'Do they keep their place over a summer of heat and cold?',
  margin_k: 1,
  reduction: REDUCTION,
  rigs: ['North bench'],
  specimens: ['Bramble 5', 'Wick 60'].map((name) => ({
    name,
    kind: name === 'Wick 60' ? ('phase_change' as const) : ('paste' as const),
    material: name,
  })),
  plan: {
    varies: 'material',
    mounts: 4,
    runs: 5,
    seed: 60,
    loads: [{ ...CORRELATE, cycles: 2 }],
    held: HELD,
    ages: '0, 7, 14, 30, 60, 90',
    ...ROOM,
    ...COST,
  },
};

/** One lid before and after it was lapped flat. */
export const LAPPED_LID: DemoStudy = {
  title: 'A lapped lid',
  question: 'Is it worth lapping the lid flat, with 40 µm of it gone?',
  margin_k: 1,
  reduction: REDUCTION,
  rigs: ['North bench'],
  specimens: [
    { name: 'Lid as made', kind: 'state', material: 'Bramble 5', plan: { unit: 'TM6-0117' } },
    { name: 'Lid lapped', kind: 'state', material: 'Bramble 5', plan: { unit: 'TM6-0117', rise_k: 39, tools: 46, effort_min: 150 } },
  ],
  plan: {
    design: 'before_after',
    varies: 'surface',
    mounts: 5,
    runs: 1,
    seed: 7,
    start_on: '2026-10-05',
    loads: [CORRELATE],
    held: HELD,
    ...ROOM,
    ...COST,
    alternative: 'Wick 60 on the lid as it is',
    alternative_price: 25,
  },
};
