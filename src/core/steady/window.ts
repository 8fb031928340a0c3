import { within } from '../trace/series';
import type { Span } from '../trace/types';
import { type SlopeTest, slopeTest } from './slopeTest';

export interface FoundWindow {
  window: Span;
  test: SlopeTest | null;
  steady: boolean;
  /** end of the first window after which all are steady */
  steady_at_s: number | null;
}

/** Windows that are tried at every step; beyond them, going back from the end, every half of a window is tried first. */
const FINE_STEPS = 1000;

/**
 * The last steady window of a stage, and since when the run was steady; the last window where none is.
 * Windows are tried from the end backwards in steps of one sample, or of a sixtieth of the window where samples are closer. In a very long
 * stage the moment since when it is steady is sought in steps of half the window, and then to the same fineness.
 * @param length window, s
 * @param limit K/min
 */
export function findWindow(t: Float64Array, values: Float64Array, stage: Span, length: number, limit: number, period: number): FoundWindow {
  const step = Math.max(period, length / 60);
  const endOf = (k: number) => stage.end_s - k * step;
  const test = (k: number) => {
    const part = within(t, values, { start_s: endOf(k) - length, end_s: endOf(k) });
    return slopeTest(part.t, part.values, limit);
  };
  const whole = Math.floor((stage.end_s - stage.start_s - length) / step + 1e-9);
  for (let k = 0; k <= whole; k++) {
    const judged = test(k);
    if (!judged?.steady) continue;
    const steadyAt = k === 0 ? endOf(earliestSteady((i) => test(i)?.steady ?? false, whole, Math.max(1, Math.floor(length / 2 / step)))) : null;
    return { window: { start_s: endOf(k) - length, end_s: endOf(k) }, test: judged, steady: true, steady_at_s: steadyAt };
  }
  const last: Span = { start_s: Math.max(stage.start_s, stage.end_s - length), end_s: stage.end_s };
  const part = within(t, values, last);
  return { window: last, test: slopeTest(part.t, part.values, limit), steady: false, steady_at_s: null };
}

/** Number of steps back from the end up to which every window that is tried is steady. */
function earliestSteady(isSteady: (k: number) => boolean, whole: number, coarse: number): number {
  let steady = 0;
  for (let k = 1; k <= whole; ) {
    const stride = k > FINE_STEPS ? Math.min(coarse, whole - steady) : 1;
    const next = steady + stride;
    if (!isSteady(next)) {
      if (stride > 1) while (isSteady(steady + 1)) steady++;
      return steady;
    }
    steady = next;
    k = steady + 1;
  }
  return steady;
}
