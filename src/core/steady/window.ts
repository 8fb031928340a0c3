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

/**
 * The last steady window of a stage, and since when the run was steady; the last window where none is.
 * Windows are tried from the end backwards in steps of one sample, or of a sixtieth of the window where samples are closer.
 * @param length window, s
 * @param limit K/min
 */
export function findWindow(t: Float64Array, values: Float64Array, stage: Span, length: number, limit: number, period: number): FoundWindow {
  const step = Math.max(period, length / 60);
  const test = (end: number) => {
    const part = within(t, values, { start_s: end - length, end_s: end });
    return slopeTest(part.t, part.values, limit);
  };
  let found: FoundWindow | null = null;
  const last: Span = { start_s: Math.max(stage.start_s, stage.end_s - length), end_s: stage.end_s };
  const whole = Math.floor((stage.end_s - stage.start_s - length) / step + 1e-9);
  for (let k = 0; k <= whole; k++) {
    const end = stage.end_s - k * step;
    const judged = test(end);
    if (!judged?.steady) {
      if (found) return found;
      continue;
    }
    if (!found) found = { window: { start_s: end - length, end_s: end }, test: judged, steady: true, steady_at_s: k === 0 ? end : null };
    else if (found.steady_at_s !== null) found.steady_at_s = end;
    else return found;
  }
  if (found) return found;
  const part = within(t, values, last);
  return { window: last, test: slopeTest(part.t, part.values, limit), steady: false, steady_at_s: null };
}
