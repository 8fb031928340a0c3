import { IsIn, IsNumber, Max, Min } from 'class-validator';

export interface OutcomeWords {
  name: string;
  unit: string;
  better: 'lower' | 'higher';
  /** margin taken where none is stated, in its unit */
  margin: number;
}

/** What a study can be judged by, with its unit, its better direction and a usual margin. */
export const STUDY_OUTCOMES = {
  rise: { name: 'Rise over ambient', unit: 'K', better: 'lower', margin: 1 },
  idle_rise: { name: 'Idle rise', unit: 'K', better: 'lower', margin: 1 },
  r_k_per_w: { name: 'Resistance', unit: 'K/W', better: 'lower', margin: 0.01 },
  spread: { name: 'Spread of the sensors', unit: 'K', better: 'lower', margin: 1 },
  fan_speed: { name: 'Fan speed', unit: 'rpm', better: 'lower', margin: 50 },
  noise: { name: 'Noise', unit: 'dB(A)', better: 'lower', margin: 1 },
  clock: { name: 'Clock', unit: 'MHz', better: 'higher', margin: 25 },
  voltage: { name: 'Voltage', unit: 'V', better: 'lower', margin: 0.01 },
  score: { name: 'Score', unit: 'points', better: 'higher', margin: 10 },
  run_time: { name: 'Run time', unit: 's', better: 'lower', margin: 1 },
  frame_rate: { name: 'Mean frame rate', unit: '1/s', better: 'higher', margin: 1 },
  slow_frame_rate: { name: 'Slow-percentile frame rate', unit: '1/s', better: 'higher', margin: 1 },
  frame_time: { name: 'Frame time', unit: 'ms', better: 'lower', margin: 0.5 },
  score_per_watt: { name: 'Score per watt', unit: 'points/W', better: 'higher', margin: 0.1 },
  time_to_event: { name: 'Time to an event', unit: 's', better: 'higher', margin: 10 },
  highest_clock: { name: 'Highest passing clock', unit: 'MHz', better: 'higher', margin: 25 },
} as const satisfies Record<string, OutcomeWords>;

export type OutcomeKey = keyof typeof STUDY_OUTCOMES;

/** An outcome a study is planned for, with the smallest difference that matters in it. */
export class PlannedOutcome {
  @IsIn(Object.keys(STUDY_OUTCOMES), { message: `An outcome is one of ${Object.keys(STUDY_OUTCOMES).join(', ')}.` })
  key!: OutcomeKey;

  @Max(1e6, { message: 'The margin of an outcome should be below 1,000,000 of its unit.' })
  @Min(1e-6, { message: 'The margin of an outcome should be above 0.' })
  @IsNumber({ allowNaN: false, allowInfinity: false }, { message: 'The margin of an outcome is a number in its unit.' })
  margin!: number;
}
