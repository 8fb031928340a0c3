import { write } from '#core/text/words';

/** Figures of a program in words and units. */
export function describeResults(f: {
  score: number | null;
  run_time_s: number | null;
  frame_rate: number | null;
  slow_frame_rate: number | null;
  frame_time_ms: number | null;
}): string {
  const says = [
    f.score !== null && `score ${write(f.score, f.score >= 100 ? 0 : 2)}`,
    f.run_time_s !== null && `run time ${write(f.run_time_s, 1)} s`,
    f.frame_rate !== null && `${write(f.frame_rate, 1)} frames/s`,
    f.slow_frame_rate !== null && `slowest hundredth ${write(f.slow_frame_rate, 1)} frames/s`,
    f.frame_time_ms !== null && `${write(f.frame_time_ms, 2)} ms per frame`,
  ].filter(Boolean);
  return says.join(', ');
}
