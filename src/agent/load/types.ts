/** What the load computes. */
export type LoadMix = 'all' | 'integer' | 'float' | 'memory';

/** What a worker of the load is given. */
export interface BurnJob {
  shared: SharedArrayBuffer;
  mix: LoadMix;
  /** tells workers apart, so that those of a mixture do different things */
  index: number;
}

/** Places in the memory that the agent shares with its workers. */
export const SHARED = { duty: 0, beat: 1, stop: 2, length: 3 } as const;

/** Duty is shared in thousandths. */
export const DUTY_STEPS = 1000;
