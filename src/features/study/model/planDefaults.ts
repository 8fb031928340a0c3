import type { StudyPlan } from './studyPlan';

/** What a plan rests on where nothing is said. */
export const PLAN_DEFAULTS = {
  varies: 'material',
  design: 'one_factor',
  margin_k: 1,
  mounts: 5,
  runs: 3,
  power: 0.8,
  confidence: 0.95,
  family: 'all',
  scatter: 'auto',
  block: 'none',
  bracket: false,
  value_school: 'window',
  sensor_school: 'mean',
  ambient_school: 'difference',
  ambient_place: 'room',
  ambient_disagree_k: 2,
  fan_school: 'fixed',
  noise_weighting: 'A',
  limits_room_c: 35,
  load_school: 'fixed',
  steady_school: 'either',
  amount_school: 'by_lid',
  masking_school: 'mask',
  repeat_school: 'remounts',
  mount_min: 25,
  run_min: 40,
  day_hours: 8,
  start_time: '09:00',
  weekdays: [1, 2, 3, 4, 5],
  seed: 1,
  day_sd: 0,
  failure_pct: 0,
  looks: [] as number[],
} as const satisfies StudyPlan;

/** Scatter between runs on one mount, K, before a lab has its own (method, §5). */
export const DEFAULT_RUN_SD = 0.15;
