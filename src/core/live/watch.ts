import { write } from '#core/text/words';
import { isLoaded } from './follow';
import type { LiveTrace } from './liveTrace';
import type { LiveChannel, LiveSettings, LiveState } from './types';

/** A condition that somebody must know of at once; its code stays the same as long as it lasts. */
export interface Alarm {
  code: string;
  message: string;
  /** the load should be cut off */
  cut_off: boolean;
}

const LOOK_S = 10;
/** A sensor that does not move for this long while others do is stuck. */
const STUCK_S = 60;
const MOVES_K = 0.5;
const FLICKERS = 12;
const DRIVE_S = 5;
/** Silence that makes a source lost: readings that did not come, at least this long, and how long it may be cut off, s. */
const LOST_PERIODS = 2.2;
const LOST_S = 1;
const DOWN_S = 0.3;
const SENDS_PERIODS = 10;
const SENDS_S = 5;

/** A load that was switched on shows itself within this. */
const NO_START_S = 15;

/** A room that changed by more than this within five minutes, K. */
const JUMP_K = 1.5;

/** An alarm that lasts ends only this far back from where it was raised, so that noise about a limit does not end and raise it again. */
const BACK = { k_per_min: 0.3, fan_share: 0.05, band_k: 0.2, jump_k: 0.4 };

const UNDER_LOAD = new Set(['load', 'settling', 'averaging']);

/**
 * Limits that hold while a run goes on: temperature, speed of the rise, fan, throttling, the room, and sources that fell silent.
 * A list of alarms, one a thing that is watched.
 * @param lost names of sources without contact and since when, s
 * @param lasting codes of the alarms that are on already
 */
export function watch(
  state: LiveState,
  trace: LiveTrace,
  settings: LiveSettings,
  lost: { source: string; since_s: number }[] = [],
  lasting: ReadonlySet<string> = new Set(),
): Alarm[] {
  if (state.stage === 'finished' || state.stage === 'stopped') return [];
  const alarms: Alarm[] = [];
  const raise = (code: string, message: string, cut_off = false) => alarms.push({ code, message, cut_off });
  const back = (code: string, by: number) => (lasting.has(code) ? by : 0);
  const now = state.t;
  const loaded = UNDER_LOAD.has(state.stage);
  for (const { source, since_s } of lost)
    raise(`lost:${source}`, `${source} has not answered for ${write(Math.max(0, now - since_s), 0)} s. Its missing readings stay a gap.`);
  if (state.stage === 'preflight') return alarms;

  if (state.held) raise('held', `${state.held} Resume the run when ready.`);
  const hottest = trace.highest('sensor', now - LOOK_S, now);
  if (hottest !== null && settings.stop_c !== null && hottest >= settings.stop_c)
    raise('too_hot', `A sensor reads ${write(hottest, 1)} °C; the hard limit is ${write(settings.stop_c, 0)} °C. End the load.`, true);
  if (loaded && settings.most_k_per_min !== null && now - (state.load_from_s ?? now) > 60) {
    const climbs = slopeOf(trace, now, settings);
    if (climbs !== null && climbs > settings.most_k_per_min - back('too_fast', BACK.k_per_min))
      raise(
        'too_fast',
        `ΔT climbs by ${write(climbs, 1)} K/min; the limit is ${write(settings.most_k_per_min, 1)} K/min. Check the mount.`,
        true,
      );
  }
  const fan = trace.mean('fan', now - LOOK_S / 2, now);
  if (fan !== null && settings.kind !== 'limit_test' && (settings.fan_rpm === null || settings.fan_rpm > 0)) {
    const least = settings.fan_rpm === null ? 50 : (0.5 + back('fan_stopped', BACK.fan_share)) * settings.fan_rpm;
    if (fan < least)
      raise(
        'fan_stopped',
        `The fan turns at ${write(fan, 0)} rpm${settings.fan_rpm === null ? '' : `, not ${write(settings.fan_rpm, 0)} rpm`}. The load is not cooled.`,
        loaded,
      );
  }
  if (loaded && isThrottling(state, trace, settings))
    raise('throttled', 'The part throttles: what the run shows from here is a lower bound of its rise.');
  for (const name of stuckChannels(trace, now))
    raise(`stuck:${name}`, `${name} shows the same figure to the last digit for ${STUCK_S} s: it is stuck and is not used.`);
  const band = settings.ambient_band_c;
  const room = trace.mean('ambient', now - LOOK_S, now);
  const inside = back('ambient_band', BACK.band_k);
  if (band && room !== null && (room < band[0] + inside || room > band[1] - inside))
    raise('ambient_band', `The room is at ${write(room, 1)} °C; the band of the study is ${write(band[0], 0)} to ${write(band[1], 0)} °C.`);
  const before = trace.mean('ambient', now - 310, now - 240);
  if (loaded && room !== null && before !== null && Math.abs(room - before) > JUMP_K - back('ambient_jump', BACK.jump_k))
    raise('ambient_jump', `The room changed by ${write(Math.abs(room - before), 1)} K within five minutes: is a door open?`);
  // in a gap nothing is known of the load
  const read = (['power', 'load'] as const).some((role) => trace.mean(role, now - DRIVE_S, now) !== null);
  if (
    state.stage === 'cooldown' &&
    settings.switched &&
    read &&
    now - (state.load_to_s ?? now) > NO_START_S + settings.lag_s &&
    isLoaded({ state, trace, settings, now })
  )
    raise('still_on', 'The load was switched off and is still on. Switch it off by hand.');
  if (state.stage === 'idle' && state.asked_s !== null && now - state.asked_s > NO_START_S + settings.lag_s)
    raise('no_start', 'The load was switched on and does not start. Check the mount before another try.');
  return alarms;
}

/**
 * True where the throttle channel says so, or the clock (the power, where no clock is read) fell while a sensor stands within 1 K of the
 * limit.
 */
function isThrottling(state: LiveState, trace: LiveTrace, settings: LiveSettings): boolean {
  const now = state.t;
  const flag = trace.mean('throttle', now - LOOK_S, now);
  if (flag !== null && flag > 0.5) return true;
  if (settings.limit_c === null || state.load_from_s === null) return false;
  const hottest = trace.highest('sensor', now - LOOK_S, now);
  if (hottest === null || hottest < settings.limit_c - 1) return false;
  // a power that falls at full clock is a boost that ends, whatever the temperature
  const role = trace.mean('clock', now - LOOK_S / 2, now) === null ? 'power' : 'clock';
  const top = trace.mean(role, state.load_from_s + 5, state.load_from_s + 25);
  const level = trace.mean(role, now - LOOK_S / 2, now);
  return top !== null && level !== null && level < 0.97 * top;
}

/** What a governor or a program holds to the digit once it has found its level. */
const HELD = new Set<LiveChannel['role']>(['clock', 'load', 'throttle']);

/**
 * Channels whose reading stays the same to the last digit for a minute: sensors beside which others move, and any channel that flickered
 * before, as one whose noise is larger than its step always does.
 */
function stuckChannels(trace: LiveTrace, now: number): string[] {
  const isSensor = (c: LiveChannel) => c.role === 'sensor' || c.role === 'coolant';
  const range = (c: LiveChannel) => {
    const { values } = trace.series.get(c.name)?.span(now - STUCK_S - 1, now) ?? { values: new Float64Array(0) };
    return values.length === 0 ? 0 : Math.max(...values) - Math.min(...values);
  };
  const moves = trace.channels.some((c) => isSensor(c) && range(c) > MOVES_K);
  return trace.channels.flatMap((c) => {
    const since = sameSince(trace, c, now);
    return since !== null && ((isSensor(c) && moves) || (!HELD.has(c.role) && flickered(trace, c.name, since))) ? c.name : [];
  });
}

/** Since when a channel shows the same figure, where that is over a minute and it still answers; else null. */
function sameSince(trace: LiveTrace, { name, period_s }: LiveChannel, now: number): number | null {
  const series = trace.series.get(name);
  const { t, values } = series?.span(Number.NEGATIVE_INFINITY, now) ?? { t: new Float64Array(0), values: new Float64Array(0) };
  let from = values.length - 1;
  if (from < 0 || Number.isNaN(values[from]) || now - t[from] > 10 * period_s + DRIVE_S) return null;
  while (from > 0 && values[from - 1] === values[from]) from--;
  const known = values.length - from;
  return known > 5 && t[values.length - 1] - t[from] >= STUCK_S - 3 * period_s ? t[from] : null;
}

/** Whether a channel went up and down again and again in the two minutes before a time. */
function flickered(trace: LiveTrace, name: string, before: number): boolean {
  const values =
    trace.series
      .get(name)
      ?.span(before - 2 * STUCK_S, before)
      .values.filter((v) => !Number.isNaN(v)) ?? new Float64Array(0);
  let turns = 0;
  let way = 0;
  for (let i = 1; i < values.length; i++) {
    const step = Math.sign(values[i] - values[i - 1]);
    if (step !== 0 && way !== 0 && step !== way) turns++;
    if (step !== 0) way = step;
  }
  return turns >= FLICKERS;
}

/**
 * A source is lost when two of its readings did not come, or its connection stays away.
 * @param silent_s since its newest reading with a figure, s of the wall's clock
 * @param down_s since it is known to be cut off; null while it is connected
 * @param period_s usual time between its readings, s of the wall's clock
 * @param asked whether it answers questions; one that sends by itself may gather its readings for a while
 */
export function isLost(silent_s: number, down_s: number | null, period_s: number, asked = true): boolean {
  const patience = asked ? Math.max(LOST_S, LOST_PERIODS * period_s) : Math.max(SENDS_S, SENDS_PERIODS * period_s);
  return silent_s > patience || (down_s !== null && down_s > DOWN_S);
}

function slopeOf(trace: LiveTrace, now: number, settings: LiveSettings): number | null {
  const { t, values } = trace.rise(now - 20, now, settings.room_c);
  if (t.length < 4 || t[t.length - 1] - t[0] < 10) return null;
  const half = Math.floor(t.length / 2);
  const mean = (a: Float64Array) => a.reduce((s, v) => s + v, 0) / a.length;
  return (60 * (mean(values.subarray(half)) - mean(values.subarray(0, half)))) / (mean(t.subarray(half)) - mean(t.subarray(0, half)));
}
