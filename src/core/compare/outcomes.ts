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
  rise: { name: 'Rise over ambient', unit: 'K', better: 'lower', margin: 1, digits: 1, verb: 'runs', than: 'cooler than' },
  rise_at_power: {
    name: 'Rise at a stated power',
    unit: 'K',
    better: 'lower',
    margin: 1,
    digits: 1,
    verb: 'would run',
    than: 'cooler than',
  },
  hottest: {
    name: 'Rise of the hottest sensor',
    unit: 'K',
    better: 'lower',
    margin: 1,
    digits: 1,
    verb: 'keeps its hottest sensor',
    than: 'cooler than',
  },
  coldest: {
    name: 'Rise of the coldest sensor',
    unit: 'K',
    better: 'lower',
    margin: 1,
    digits: 1,
    verb: 'keeps its coldest sensor',
    than: 'cooler than',
  },
  sensor: { name: 'Rise of one sensor', unit: 'K', better: 'lower', margin: 1, digits: 1, verb: 'keeps that sensor', than: 'cooler than' },
  idle_rise: { name: 'Idle rise', unit: 'K', better: 'lower', margin: 1, digits: 1, verb: 'idles', than: 'cooler than' },
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
} as const satisfies Record<string, Outcome>;

export type OutcomeKey = keyof typeof OUTCOMES;

/** Words for mounts of which only a lower bound is known. */
export interface BoundWords {
  /** what befell such a run or mount */
  did: string;
  /** what is wrong with the mean of the others */
  left: string;
  instead: string;
  /** beside a single figure */
  from: string;
}

const THROTTLED: BoundWords = { did: 'throttled', left: 'too low', instead: 'Compare K/W instead.', from: 'at or above' };
const NOT_REACHED: BoundWords = {
  did: 'ended without the event',
  left: 'too short',
  instead: 'The log-rank test takes all of them in.',
  from: 'longer than',
};

/**
 * Why an outcome has lower bounds: a part that throttled held its temperature down itself; a run that was stopped had not come to the event
 * yet.
 */
export const boundWords = (outcome: OutcomeKey): BoundWords => (outcome === 'time_to_event' ? NOT_REACHED : THROTTLED);
