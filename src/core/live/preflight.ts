import { slopeTest } from '#core/signal/steady/slopeTest';
import { write } from '#core/text/words';
import type { LiveTrace } from './liveTrace';
import type { LiveSettings } from './types';

/** One thing to be right before a run begins. */
export interface Check {
  key: string;
  label: string;
  state: 'right' | 'wrong' | 'unknown';
  message: string;
}

export interface SourceHealth {
  name: string;
  connected: boolean;
  /** what is wrong with it, in a sentence */
  problem: string | null;
  /** last day its calibration holds, as yyyy-mm-dd; null where none is noted */
  calibrated_until: string | null;
}

const LOOK_S = 15;

/**
 * Pre-flight check: what a run needs, each with what is seen.
 * A list of checks, one a thing that could spoil the run.
 * @param today yyyy-mm-dd, by which a calibration is judged
 * @param conditioned what is known of the interface's conditioning; null where the material needs none
 */
export function preflight(
  trace: LiveTrace,
  settings: LiveSettings,
  now: number,
  sources: SourceHealth[],
  today: string,
  conditioned: { done: boolean; message: string } | null,
): Check[] {
  const checks: Check[] = [];
  const add = (key: string, label: string, state: Check['state'], message: string) => checks.push({ key, label, state, message });
  for (const s of sources) {
    const label = s.name;
    if (s.problem) add(`source:${s.name}`, label, 'wrong', s.problem);
    else if (!s.connected) add(`source:${s.name}`, label, 'wrong', 'Not connected yet.');
    else if (s.calibrated_until === null) add(`source:${s.name}`, label, 'unknown', 'Answers; no calibration date.');
    else if (s.calibrated_until < today)
      add(`source:${s.name}`, label, 'wrong', `Answers, but its calibration ended on ${s.calibrated_until}.`);
    else add(`source:${s.name}`, label, 'right', `Answers; calibrated until ${s.calibrated_until}.`);
  }
  const sensors = trace.channels.filter((c) => c.role === 'sensor');
  const silent = sensors.filter((c) => trace.mean(c.role, now - LOOK_S, now) === null);
  if (sensors.length === 0) add('sensor', 'Temperature of the part', 'wrong', 'No channel reads the part: give one the role "sensor".');
  else if (silent.length > 0) add('sensor', 'Temperature of the part', 'wrong', 'No reading yet.');
  else add('sensor', 'Temperature of the part', 'right', `${write(trace.mean('sensor', now - LOOK_S, now) as number, 1)} °C`);

  const room = trace.mean('ambient', now - LOOK_S, now) ?? settings.room_c;
  const band = settings.ambient_band_c;
  if (room === null) add('ambient', 'Room', 'wrong', 'No channel reads the room, and none is entered: there is no ΔT over ambient.');
  else if (band && (room < band[0] || room > band[1]))
    add('ambient', 'Room', 'wrong', `${write(room, 1)} °C; the study allows ${write(band[0], 0)} to ${write(band[1], 0)} °C.`);
  else add('ambient', 'Room', 'right', `${write(room, 1)} °C${band ? `, within ${write(band[0], 0)} to ${write(band[1], 0)} °C` : ''}`);

  const rise = trace.rise(now - 30, now, settings.room_c);
  const trend = slopeTest(rise.t, rise.values, Number.POSITIVE_INFINITY);
  const level = trend?.mean ?? null;
  const first = settings.first?.sensor_rise_k ?? null;
  if (level === null) add('cooled', 'Cooled down', 'unknown', 'No ΔT to judge from yet.');
  else if (first !== null && level - first > 1)
    add('cooled', 'Cooled down', 'wrong', `${write(level, 1)} K above ambient; the mount's first run started at ${write(first, 1)} K.`);
  else if (trend && trend.slope + trend.reach < -0.5)
    add('cooled', 'Cooled down', 'wrong', `Still falling by ${write(-trend.slope, 1)} K/min.`);
  else
    add(
      'cooled',
      'Cooled down',
      'right',
      `${write(level, 1)} K above ambient${first === null ? '' : `, as the first run (${write(first, 1)} K)`}`,
    );

  held(
    'fan',
    'Fan',
    'rpm',
    trace.mean('fan', now - LOOK_S, now),
    settings.fan_rpm,
    Math.max(20, settings.fan_tolerance * (settings.fan_rpm ?? 0)),
  );
  const power = trace.mean('power', now - LOOK_S, now);
  if (power === null) add('power', 'Power', trace.channels.some((c) => c.role === 'power') ? 'wrong' : 'unknown', 'Not read.');
  else if (settings.power_w !== null && power > 0.5 * settings.power_w)
    add('power', 'Power', 'wrong', `${write(power, 1)} W: the load is already on.`);
  else
    add(
      'power',
      'Power',
      'right',
      `${write(power, 1)} W at idle${settings.power_w === null ? '' : `, ${write(settings.power_w, 0)} W under load`}`,
    );
  if (conditioned) add('conditioned', 'Conditioned', conditioned.done ? 'right' : 'wrong', conditioned.message);
  return checks;

  function held(key: string, label: string, unit: string, got: number | null, want: number | null, allowed: number): void {
    if (got === null) add(key, label, 'unknown', 'Not read.');
    else if (want !== null && Math.abs(got - want) > allowed)
      add(key, label, 'wrong', `${write(got, 0)} ${unit}; the study holds ${write(want, 0)} ± ${write(allowed, 0)} ${unit}.`);
    else add(key, label, 'right', `${write(got, 0)} ${unit}${want === null ? '' : `, set-point ${write(want, 0)} ${unit}`}`);
  }
}
