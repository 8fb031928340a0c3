import type { PowerCourse } from '#core/signal/course/powerCourse';
import { powerLevels } from '#core/signal/course/powerLevels';
import type { LiveTrace } from './liveTrace';
import type { LiveSettings, LiveState } from './types';

/** A run's course under load as far as it has come, on a clock that starts with the load. */
export interface CourseSoFar {
  t: Float64Array;
  rise: Float64Array;
  /** as a share of the power of now; null where none is read */
  power: PowerCourse | null;
}

/** What a forecast rests on; null while there is no load. */
export function courseSoFar(trace: LiveTrace, { load_from_s, t: now, idle_w }: LiveState, { room_c }: LiveSettings): CourseSoFar | null {
  if (load_from_s === null) return null;
  const { t, values } = trace.rise(load_from_s, now, room_c);
  const watts = trace.of('power')[0]?.series.span(load_from_s, now);
  const since = (times: Float64Array) => times.map((s) => s - load_from_s);
  return { t: since(t), rise: values, power: watts ? powerLevels(since(watts.t), watts.values, idle_w ?? 0) : null };
}
