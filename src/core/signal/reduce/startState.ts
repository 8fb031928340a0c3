import type { Finding } from '#core/compare/types';
import { slopeTest } from '#core/signal/steady/slopeTest';
import { cutRises, overAmbient, type RiseSeries } from '#core/signal/trace/rise';
import { meanOfSeries, rangeOf, within } from '#core/signal/trace/series';
import { type Span, type Trace, usable } from '#core/signal/trace/types';
import { sentenceCase, write } from '#core/text/words';
import type { ReduceOptions, StartState } from './types';
import { roleMean, windowMean } from './windowMeans';

/** Mean rise of sensors and coolant over the 30 s before load. */
export function startState(trace: Trace, rises: RiseSeries | null, load: Span | null): StartState {
  if (!rises?.ambient || !load) return { sensor_rise_k: null, coolant_rise_k: null };
  const span: Span = { start_s: load.start_s - 30, end_s: load.start_s };
  const before = cutRises(rises, ...rangeOf(rises.t, span));
  const sensor = windowMean(before.t, overAmbient(before, meanOfSeries(before.sensors.map((s) => s.temperature))), span);
  const coolant = roleMean(trace, 'coolant', span);
  const room = windowMean(rises.t, rises.ambient, span);
  return { sensor_rise_k: sensor?.mean ?? null, coolant_rise_k: coolant && room ? coolant.mean - room.mean : null };
}

/** Did the run start warm: against the mount's first run, or alone by what still falls in the minute before load. */
export function startFindings(
  trace: Trace,
  rises: RiseSeries | null,
  load: Span | null,
  start: StartState,
  { first, prewarmed, cold_start }: Pick<ReduceOptions, 'first' | 'prewarmed' | 'cold_start'>,
): Finding[] {
  if (!rises || !load) return [];
  if (prewarmed) return [];
  const compared = (sign: 1 | -1) =>
    first
      ? (
          [
            ['sensors', start.sensor_rise_k, first.sensor_rise_k],
            ['coolant', start.coolant_rise_k, first.coolant_rise_k],
          ] as const
        )
          .filter(([, now, then]) => now !== null && then !== null && sign * (now - then) > 1)
          .map(
            ([what, now, then]) =>
              `${what} start ${write(Number(now), 1)} K above ambient, ${write(Number(then), 1)} K at the mount's first run`,
          )
      : [];
  const minute: Span = { start_s: load.start_s - 60, end_s: load.start_s };
  const before = cutRises(rises, ...rangeOf(rises.t, minute));
  const watched = [
    { what: 'The sensors', t: before.t, values: meanOfSeries(before.sensors.map((s) => s.temperature)) },
    ...usable(trace, 'coolant').map((c) => ({ what: 'The coolant', t: c.t, values: c.clean })),
  ];
  const falling = watched.flatMap(({ what, t, values }) => {
    const part = within(t, values, minute);
    const trend = slopeTest(part.t, part.values, Number.POSITIVE_INFINITY);
    return trend && trend.slope + trend.reach < -0.5
      ? [`${what} still fell by ${write(-trend.slope, 1)} K/min in the minute before load`]
      : [];
  });
  const warm = first ? [...compared(1), ...(cold_start ? falling : [])] : falling;
  const cold = compared(-1);
  const findings: Finding[] = [];
  if (warm.length > 0) {
    findings.push({
      code: 'heat_soaked',
      severity: 'warn',
      message: `${sentenceCase(warm.join('; '))}: the run started warm and reads differently from one started cold.`,
    });
  }
  if (cold.length > 0) {
    findings.push({
      code: 'started_colder',
      severity: 'note',
      message: `${sentenceCase(cold.join('; '))}: the run started colder, which the steadiness test allows for.`,
    });
  }
  return findings;
}
