/** What specimens can be compared by: unit, better direction, usual margin and own words. */
export interface Outcome {
  name: string;
  unit: string;
  better: 'lower' | 'higher';
  /** margin taken where none is stated, in its unit */
  margin: number;
  /** decimals that are honest to print */
  digits: number;
  /** the better specimen's verb, and what it is by comparison: "runs … cooler than", "has … less resistance than" */
  verb: string;
  than: string;
}

export const OUTCOMES = {
  rise: { name: 'ΔT over ambient', unit: 'K', better: 'lower', margin: 1, digits: 1, verb: 'runs', than: 'cooler than' },
  rise_at_power: {
    name: 'ΔT at a stated power',
    unit: 'K',
    better: 'lower',
    margin: 1,
    digits: 1,
    verb: 'would run',
    than: 'cooler than',
  },
  hottest: {
    name: 'ΔT of the hottest sensor',
    unit: 'K',
    better: 'lower',
    margin: 1,
    digits: 1,
    verb: 'keeps its hottest sensor',
    than: 'cooler than',
  },
  coldest: {
    name: 'ΔT of the coldest sensor',
    unit: 'K',
    better: 'lower',
    margin: 1,
    digits: 1,
    verb: 'keeps its coldest sensor',
    than: 'cooler than',
  },
  sensor: { name: 'ΔT of one sensor', unit: 'K', better: 'lower', margin: 1, digits: 1, verb: 'keeps that sensor', than: 'cooler than' },
  part_rise: { name: 'ΔT of one part', unit: 'K', better: 'lower', margin: 1, digits: 1, verb: 'keeps that part', than: 'cooler than' },
  part_resistance: {
    ...{ name: 'Resistance of one part', unit: 'K/W', better: 'lower', margin: 0.01, digits: 3 },
    ...{ verb: 'has', than: 'less resistance there than' },
  },
  idle_rise: { name: 'Idle ΔT', unit: 'K', better: 'lower', margin: 1, digits: 1, verb: 'idles', than: 'cooler than' },
  r_k_per_w: { name: 'Resistance', unit: 'K/W', better: 'lower', margin: 0.01, digits: 3, verb: 'has', than: 'less resistance than' },
  spread: { name: 'Spread of the sensors', unit: 'K', better: 'lower', margin: 1, digits: 1, verb: 'spreads', than: 'less than' },
  limit_room: {
    ...{ name: 'Room to the nearest limit', unit: 'K', better: 'higher', margin: 1, digits: 1 },
    ...{ verb: 'stays', than: 'farther from its nearest limit than' },
  },
  fan_speed: { name: 'Fan speed', unit: 'rpm', better: 'lower', margin: 50, digits: 0, verb: 'turns its fan', than: 'slower than' },
  fan_duty: { name: 'Fan drive', unit: '%', better: 'lower', margin: 5, digits: 0, verb: 'drives its fan', than: 'less than' },
  noise: { name: 'Noise', unit: 'dB(A)', better: 'lower', margin: 1, digits: 1, verb: 'is', than: 'quieter than' },
  power: { name: 'Power', unit: 'W', better: 'lower', margin: 1, digits: 1, verb: 'draws', than: 'less than' },
  exhaust: { name: 'Exhaust over the room', unit: 'K', better: 'lower', margin: 1, digits: 1, verb: 'blows out air', than: 'cooler than' },
  clock: { name: 'Clock', unit: 'MHz', better: 'higher', margin: 25, digits: 0, verb: 'clocks', than: 'higher than' },
  voltage: { name: 'Voltage', unit: 'V', better: 'lower', margin: 0.01, digits: 3, verb: 'needs', than: 'less than' },
  throttle_share: {
    name: 'Throttled share',
    unit: '%',
    better: 'lower',
    margin: 1,
    digits: 1,
    verb: 'throttles',
    than: 'of the time less than',
  },
  score: { name: 'Score', unit: 'points', better: 'higher', margin: 10, digits: 0, verb: 'scores', than: 'more than' },
  run_time: { name: 'Run time', unit: 's', better: 'lower', margin: 1, digits: 1, verb: 'takes', than: 'less than' },
  frame_rate: { name: 'Mean frame rate', unit: '1/s', better: 'higher', margin: 1, digits: 1, verb: 'draws', than: 'more frames than' },
  slow_frame_rate: {
    ...{ name: 'Slow-percentile frame rate', unit: '1/s', better: 'higher', margin: 1, digits: 1 },
    ...{ verb: 'draws', than: 'more frames in its slowest hundredth than' },
  },
  frame_time: { name: 'Frame time', unit: 'ms', better: 'lower', margin: 0.5, digits: 2, verb: 'takes', than: 'less a frame than' },
  score_per_watt: { name: 'Score per watt', unit: 'points/W', better: 'higher', margin: 0.1, digits: 2, verb: 'scores', than: 'more than' },
  time_to_event: { name: 'Time to an event', unit: 's', better: 'higher', margin: 10, digits: 0, verb: 'holds', than: 'longer than' },
  highest_clock: {
    name: 'Highest passing clock',
    unit: 'MHz',
    better: 'higher',
    margin: 25,
    digits: 0,
    verb: 'passes',
    than: 'higher than',
  },
  lowest_voltage: {
    name: 'Lowest passing voltage',
    unit: 'V',
    better: 'lower',
    margin: 0.01,
    digits: 3,
    verb: 'passes',
    than: 'lower than',
  },
} as const satisfies Record<string, Outcome>;

export type OutcomeKey = keyof typeof OUTCOMES;

/** Words for mounts of which only a bound is known. */
export interface BoundWords {
  /** of the finding */
  code: string;
  /** what befell such a run or mount */
  did: string;
  /** what is wrong with the mean of the others */
  left: string;
  instead: string;
  /** beside a single figure */
  from: string;
}

/** Which end of a value is known: it lies at or above the bound, or at or below. */
export type BoundSide = 'above' | 'below';

const LOG_RANK = 'The log-rank test takes all of them in.';
const THROTTLED: BoundWords = {
  ...{ code: 'partly_throttled', did: 'throttled', left: 'too low' },
  ...{ instead: 'Compare K/W instead.', from: 'at or above' },
};
const NOT_REACHED: BoundWords = {
  ...{ code: 'partly_without_event', did: 'ended without the event', left: 'too short' },
  ...{ instead: LOG_RANK, from: 'longer than' },
};
const PASSED_ALL = { code: 'partly_passed_all', did: 'passed every tried step', instead: LOG_RANK };
const PASSED_NONE = { code: 'partly_passed_none', did: 'failed the easiest step', instead: LOG_RANK };
/** Of a ladder's ends: one that was passed to its end, and one that was failed at its beginning. */
const OF_LADDER: Partial<Record<OutcomeKey, Record<BoundSide, BoundWords>>> = {
  highest_clock: {
    above: { ...PASSED_ALL, left: 'too low', from: 'at least' },
    below: { ...PASSED_NONE, left: 'too high', from: 'below' },
  },
  lowest_voltage: {
    above: { ...PASSED_NONE, left: 'too low', from: 'above' },
    below: { ...PASSED_ALL, left: 'too high', from: 'at most' },
  },
};

/**
 * Why an outcome has bounds: a part that throttled held its temperature down itself; a run that was stopped had not come to the event yet;
 * a ladder ended before the part did.
 */
export const boundWords = (outcome: OutcomeKey, side: BoundSide = 'above'): BoundWords =>
  OF_LADDER[outcome]?.[side] ?? (outcome === 'time_to_event' ? NOT_REACHED : THROTTLED);
