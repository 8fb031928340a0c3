import type { LiveStage } from '#core/live/types';
import { write } from '#core/text/words';

/** Stages as they are told from across the room. */
export const STAGE_WORDS: Record<LiveStage, string> = {
  preflight: 'Pre-flight',
  idle: 'Idle',
  load: 'Load on',
  settling: 'Settling',
  averaging: 'Averaging',
  cooldown: 'Cool-down',
  finished: 'Done',
  stopped: 'Stopped',
};

/** Stages of one cycle in their order. */
export const CYCLE_STAGES: LiveStage[] = ['idle', 'load', 'settling', 'averaging', 'cooldown'];

/** A span of time as one says it: 40 s, 6 min, 1 h 10 min. */
export function span(s: number): string {
  if (s < 90) return `${write(Math.max(0, Math.round(s)), 0)} s`;
  const min = Math.round(s / 60);
  return min < 90 ? `${min} min` : `${Math.floor(min / 60)} h ${min % 60} min`;
}

/** When something comes, with its 95 % interval. */
export function between(low: number, high: number): string {
  if (high <= 1) return 'any moment now';
  if (low < 5) return `within ${span(high)}`;
  if (high < 90) return `in ${Math.round(low)} to ${span(high)}`;
  if (low < 90) return `in ${span(low)} to ${span(high)}`;
  const [a, b] = [Math.round(low / 60), Math.round(high / 60)];
  return a === b ? `in ${a} min` : b < 90 ? `in ${a} to ${b} min` : `in ${span(low)} to ${span(high)}`;
}
