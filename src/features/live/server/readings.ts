import type { SourceState } from '#features/live/store/live';

/** Readings of one instant of a source, on the run's clock. */
export interface LiveReading {
  t: number;
  values: Map<string, number>;
}

/** What a collector tells of its source. */
export interface Listener {
  onReading: (reading: LiveReading) => void;
  onState: (state: Partial<SourceState>) => void;
  onRefusal: (code: string, message: string) => void;
}

/** The run's clock: seconds since the run began, as fast as its bench goes. */
export interface RunClock {
  now: () => number;
  scale: number;
}

/** The clock of a run: seconds from its beginning, as fast as its rig is simulated. */
export const runClock = (started_at: Date, scale: number): RunClock => ({
  now: () => ((Date.now() - started_at.getTime()) / 1000) * scale,
  scale,
});

/** Something that reads a source until it is stopped. */
export interface Collector {
  start: () => void;
  stop: () => void;
  /** sends a command to the source; false where it cannot be reached */
  command?: (text: string) => boolean;
  /** resolves when no command waits any more */
  sent?: () => Promise<void>;
}
