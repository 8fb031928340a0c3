import { within } from '#core/signal/trace/series';
import type { Span } from '#core/signal/trace/types';
import { type SlopeTest, slopeTest } from './slopeTest';

export interface FoundWindow {
  window: Span;
  test: SlopeTest | null;
  steady: boolean;
  /** end of the first window after which all are steady */
  steady_at_s: number | null;
}

/** Windows back from the end that are tried at every step. */
const FINE_STEPS = 1000;
/** Windows that are tried beyond them at most. */
const COARSE_STEPS = 5000;

/**
 * The last steady window of a stage, and since when the run was steady; the last window where none is. Windows are tried from the end
 * backwards in steps of one sample, or of a sixtieth of the window where samples are closer. Far from the end of a very long stage they are
 * tried in steps of half the window, and to the same fineness around what is found.
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
  const isSteady = (k: number) => test(k)?.steady ?? false;
  const whole = Math.floor((stage.end_s - stage.start_s - length) / step + 1e-9);
  const stride = Math.max(1, Math.floor(length / 2 / step), Math.ceil((whole - FINE_STEPS) / COARSE_STEPS));
  const after = (k: number) => Math.min(whole, k < FINE_STEPS ? k + 1 : k + stride);

  let k = 0;
  let before = -1;
  while (k <= whole && !isSteady(k)) {
    before = k;
    k = k < whole ? after(k) : whole + 1;
  }
  if (k > whole) {
    const last: Span = { start_s: Math.max(stage.start_s, stage.end_s - length), end_s: stage.end_s };
    const part = within(t, values, last);
    return { window: last, test: slopeTest(part.t, part.values, limit), steady: false, steady_at_s: null };
  }
  while (k - 1 > before && isSteady(k - 1)) k--;
  let since = k;
  if (k === 0) {
    for (let next = after(since); since < whole; next = after(since)) {
      if (!isSteady(next)) {
        while (since + 1 < next && isSteady(since + 1)) since++;
        break;
      }
      since = next;
    }
  }
  return {
    window: { start_s: endOf(k) - length, end_s: endOf(k) },
    test: test(k),
    steady: true,
    steady_at_s: k === 0 ? endOf(since) : null,
  };
}
