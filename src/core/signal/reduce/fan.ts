import type { Finding } from '#core/compare/types';
import { within } from '#core/signal/trace/series';
import { halfWidth } from '#core/signal/trace/stages';
import { type Span, type Trace, usable } from '#core/signal/trace/types';
import { median, runningMedian } from '#core/stats/quantiles';
import { write } from '#core/text/words';
import type { FanFigures } from './types';
import { type WindowMean, windowMean } from './windowMeans';

/** A surge stands this far above the stage's usual speed, as a share of it and in rpm, whichever is more. */
const SURGE_SHARE = 0.05;
const SURGE_RPM = 30;
/** Fewest surges that make a cycle, and how much the time between them may scatter. */
const CYCLE_SURGES = 4;
const CYCLE_SCATTER = 0.35;
/** Least rise of speed from idle to load that is a spin-up, as a share. */
const SPIN_UP = 0.1;
/** Largest scatter in the window, as a share of the mean. */
const STEADY_SHARE = 0.02;

/**
 * What the fan did under load: its range, how often it surged, and how long after the load it spun up; null without a fan that was logged.
 * A surge is a rise of the 5 s median over 5 % (at least 30 rpm) above the stage's median that falls back half way before the next.
 */
export function fanFigures(trace: Trace, idle: Span | null, load: Span | null, sustained: Span | null): FanFigures | null {
  const [fan] = usable(trace, 'fan');
  if (!fan || !load || !sustained) return null;
  const range = windowMean(fan.t, fan.values, load);
  const part = within(fan.t, fan.values, sustained);
  if (!range || part.values.length < 3) return null;
  const speeds = runningMedian(part.values, halfWidth(5, fan.period_s));
  const usual = median(speeds);
  const starts = surges(part.t, speeds, usual, Math.max(SURGE_RPM, SURGE_SHARE * usual));
  const minutes = (part.t[part.t.length - 1] - part.t[0]) / 60;
  return {
    min_rpm: range.min,
    max_rpm: range.max,
    surges_per_min: minutes > 0 ? starts.length / minutes : 0,
    cycle_s: cycleOf(starts),
    spin_up_s: idle ? spinUp(fan.t, runningMedian(fan.values, halfWidth(5, fan.period_s)), idle, load, usual) : null,
  };
}

/** Times at which the speed rises over the level; it must fall back half way in between. */
function surges(t: Float64Array, speeds: Float64Array, usual: number, height: number): number[] {
  const starts: number[] = [];
  // what stands high from the first sample on has not risen
  let high = true;
  for (let i = 0; i < speeds.length; i++) {
    if (high && speeds[i] < usual + height / 2) high = false;
    else if (!high && speeds[i] > usual + height) {
      high = true;
      starts.push(t[i]);
    }
  }
  return starts;
}

/** Usual time between surges where they come again and again, s. */
function cycleOf(starts: number[]): number | null {
  if (starts.length < CYCLE_SURGES) return null;
  const steps = starts.slice(1).map((s, i) => s - starts[i]);
  const middle = median(steps);
  return median(steps.map((s) => Math.abs(s - middle))) <= CYCLE_SCATTER * middle ? middle : null;
}

/** Seconds from load start until the fan is half way from its idle to its load speed; null where it does not change. */
function spinUp(t: Float64Array, speeds: Float64Array, idle: Span, load: Span, usual: number): number | null {
  const before = within(t, speeds, idle).values;
  if (before.length === 0) return null;
  const rest = median(before);
  if (!(usual > (1 + SPIN_UP) * Math.max(rest, 1))) return null;
  const half = (rest + usual) / 2;
  for (let i = 0; i < t.length; i++) if (t[i] >= load.start_s && speeds[i] >= half) return t[i] - load.start_s;
  return null;
}

/** A fan that does not hold its speed where the value is taken. */
export function fanFindings(fan: FanFigures | null, inWindow: WindowMean | null): Finding[] {
  const scatter = inWindow && inWindow.mean > 0 ? inWindow.sd / inWindow.mean : 0;
  const cycle = fan?.cycle_s ?? null;
  if (scatter <= STEADY_SHARE && cycle === null) return [];
  const says = [
    scatter > STEADY_SHARE && `scattered by ${write(100 * scatter, 1)} % in the window; up to 2 % is steady`,
    cycle !== null && `surged every ${write(cycle, 0)} s`,
  ].filter(Boolean);
  return [
    {
      code: 'fan_unsteady',
      severity: 'warn',
      message: `Fan speed ${says.join(', and ')}.`,
      numbers: { scatter, ...(cycle === null ? {} : { cycle_s: cycle }) },
    },
  ];
}
