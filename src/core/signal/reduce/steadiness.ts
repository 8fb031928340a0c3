import type { Finding } from '#core/compare/types';
import { write } from '#core/text/words';
import type { LoadFigures } from './loadFigures';
import type { ReduceOptions } from './types';

/** Findings about the sustained load coming to rest: too short, not steady, or flat and yet on its way. */
export function steadinessFindings(main: LoadFigures, lasts_s: number, options: ReduceOptions): Finding[] {
  if (lasts_s < options.window_s) {
    const message = `The sustained load lasts ${write(lasts_s, 0)} s, shorter than the window of ${write(options.window_s, 0)} s.`;
    return [{ code: 'short_load', severity: 'reject', message }];
  }
  const by_hand = handFindings(main);
  if (main.found.steady) return [...by_hand, ...widenedFindings(main, options), ...creepFindings(main, options)];
  const slope = main.found.test;
  const message = slope
    ? `Not steady: the ${options.window ? '' : 'last '}window still moves by ${write(slope.slope, 2)} ± ${write(slope.reach, 2)} K/min; ${write(options.slope_k_per_min, 2)} is allowed.`
    : 'Not steady: the window has too few readings to judge.';
  return [...by_hand, { code: 'not_steady', severity: options.value === 'mean' ? 'reject' : 'warn', message }];
}

/** A window set by hand is said, with the one that would be found by itself. */
function handFindings({ found, automatic }: LoadFigures): Finding[] {
  if (!automatic) return [];
  const span = ({ window: w }: typeof found) => `${write(w.start_s, 0)} to ${write(w.end_s, 0)} s`;
  return [
    {
      code: 'window_by_hand',
      severity: 'note',
      message: `The window was set by hand: ${span(found)}; by itself it would be ${span(automatic)}.`,
    },
  ];
}

/** A window longer than the study's is said. */
function widenedFindings({ automatic, found }: LoadFigures, { window_s }: ReduceOptions): Finding[] {
  const { start_s, end_s } = found.window;
  const length = end_s - start_s;
  if (automatic || length < 1.5 * window_s) return [];
  const message = `No window of ${write(window_s, 0)} s is steady within the noise of this log; one of ${write(length, 0)} s is, and was used.`;
  return [{ code: 'window_widened', severity: 'note', message, numbers: { window_s: length } }];
}

/** Flat enough to pass, yet on its way: what is left to come, slope × slowest time constant, exceeds a quarter of the margin. */
function creepFindings({ found, fit }: LoadFigures, options: ReduceOptions): Finding[] {
  if (!fit || !found.test) return [];
  const { slope, reach } = found.test;
  const slowest = fit.terms[fit.terms.length - 1].tau_s;
  const rest = (Math.abs(slope) * slowest) / 60;
  // a slope that its own uncertainty covers says nothing about the way left
  if (rest <= options.margin_k / 4 || Math.abs(slope) <= reach) return [];
  const message = `Flat enough to pass, yet creeping: at ${write(slope, 2)} K/min about ${write(rest, 1)} K are still to come.`;
  return [{ code: 'creeping', severity: 'warn', message, numbers: { rest_k: rest } }];
}
