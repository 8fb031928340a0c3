import type { StartState } from '#core/signal/reduce/types';
import { slopeTest } from '#core/signal/steady/slopeTest';
import { plural, write } from '#core/text/words';
import { judgeConditioning } from '#core/thermal/ageing/conditioned';
import { type LiveTrace, meanOf } from './liveTrace';
import type { LiveAction, LiveSettings, LiveStage, LiveState } from './types';

/** Seconds over which power and temperatures are taken before load, and over which the drive is read. */
const START_S = 30;
const DRIVE_S = 5;
/** Share of the way from idle to load at which the load counts as on. */
const LOADED = 0.4;
/** Start states of one mount differ by up to this, K. */
const ALIKE_K = 1;
/**
 * Share of the margin that may still be to come, by its bound: a little less than the quarter by which the mean may be off, as the mean
 * scatters too.
 */
export const ENOUGH_LEFT = 0.2;
/** Over how long the cooling is looked at, s, and how long it may take at that rate, min. */
const COOLING_S = 180;
const COOLING_PATIENCE_MIN = 60;
/** A load that fell away counts as gone after this, s. */
const GONE_S = 10;
/** What nobody asked for and was gone within this, s, was no load: another program of the machine, a start that failed. */
const BRIEF_S = 30;
/** A load that was switched off and stays on is switched off again after this, s. */
const AGAIN_S = 15;

/** A run that has not begun yet. */
export const beginState = (t: number, settings: LiveSettings): LiveState => ({
  ...{
    t,
    stage: 'preflight',
    since_s: t,
    cycle: 1,
    cycle_from_s: t,
    load_from_s: null,
    load_to_s: null,
    idle_w: null,
    opened_s: null,
    asked_s: null,
  },
  ...{ window: null, start: null, first: settings.first, left: null, closed: [], marks: [] },
  waits: 'Waiting to begin.',
});

/**
 * Follows the readings up to a time: idle, load, settling, averaging, cool-down, then the next cycle or the end. The state that is given
 * stays as it is. It knows no clock: the same readings lead to the same state, live or replayed.
 * @param now s on the run's clock; readings from then on are not looked at
 */
export function follow(
  given: LiveState,
  trace: LiveTrace,
  settings: LiveSettings,
  now: number,
): { state: LiveState; actions: LiveAction[] } {
  const state: LiveState = { ...given, closed: [...given.closed], marks: [...given.marks], t: now };
  const actions: LiveAction[] = [];
  const step = { state, trace, settings, now, ask: (a: LiveAction) => actions.push(a) };
  STEPS[state.stage](step);
  return { state, actions };
}

interface Step {
  state: LiveState;
  trace: LiveTrace;
  settings: LiveSettings;
  now: number;
  ask: (action: LiveAction) => void;
}

const STEPS: Record<LiveStage, (step: Step) => void> = {
  preflight: () => {},
  idle: followIdle,
  load: followLoad,
  settling: followSettling,
  averaging: followAveraging,
  cooldown: followCooldown,
  finished: () => {},
  stopped: () => {},
};

function enter({ state, now }: Step, stage: LiveStage): void {
  state.stage = stage;
  state.since_s = now;
  state.asked_s = null;
}

/** A person begins the run after the pre-flight check. */
export const beginIdle = (given: LiveState): LiveState => ({ ...given, stage: 'idle', since_s: given.t, cycle_from_s: given.t, waits: '' });

/** A person, a limit or a lost load ends the cycle; what was read stays, and is a run of its own if there was a load. */
export function stopRun(given: LiveState, reason: string, settings: LiveSettings, trace: LiveTrace): LiveState {
  const state: LiveState = { ...given, closed: [...given.closed], stage: 'stopped', since_s: given.t, waits: reason };
  if (given.load_from_s !== null && given.stage !== 'finished' && given.stage !== 'stopped')
    close({ state, trace, settings, now: given.t, ask: () => {} }, reason);
  return state;
}

/** The load was switched off while nobody watched: the run waits for a person's word. */
export const holdRun = (given: LiveState, reason: string): LiveState => ({ ...given, held: reason, waits: reason, asked_s: null });

/** A person lets a held run go on. */
export const resumeRun = (given: LiveState): LiveState => ({
  ...given,
  held: null,
  waits: '',
  ...(given.stage === 'idle' ? { since_s: given.t } : {}),
});

/** An event seen by a tester, with the load step it fell in. */
export const markEvent = (given: LiveState, trace: LiveTrace, event: string, at_s: number): LiveState => ({
  ...given,
  marks: [...given.marks, { event, at_s, load_w: trace.mean('power', at_s - DRIVE_S, at_s + 0.001) }],
});

function followIdle(step: Step): void {
  const { state, trace, settings, now, ask } = step;
  const waited = now - state.since_s;
  if (state.held) {
    state.waits = state.held;
    return;
  }
  if (isLoaded(step)) {
    const { asked_s } = state;
    state.load_from_s = loadStart(step);
    state.load_to_s = null;
    enter(step, 'load');
    Object.assign(state, { asked_s, brief_s: null, waits: '' });
    return;
  }
  state.idle_w = trace.mean('power', Math.max(state.since_s, now - START_S), now) ?? state.idle_w;
  state.start = startOf(trace, Math.max(state.since_s, now - START_S), now, settings.room_c);
  const left = settings.idle_s - waited;
  const apart = startDifference(state.start, state.first);
  if (left > 0) {
    const again = state.brief_s ? `The drive rose for ${write(state.brief_s, 0)} s and fell again: the idle is read anew. ` : '';
    state.waits = `${again}Reading the idle for ${write(Math.ceil(left), 0)} s more.`;
  } else if (apart > ALIKE_K) state.waits = coolingWords(step, apart);
  else {
    state.waits = settings.switched ? 'Switching the load on.' : 'Start the load now.';
    if (settings.switched && state.asked_s === null) {
      ask('load_on');
      state.asked_s = now;
    }
  }
}

function followLoad(step: Step): void {
  const { state, settings, now } = step;
  if (loadIsGone(step)) return;
  judgeWindow(step);
  if (now - (state.load_from_s ?? now) >= settings.window_s) enter(step, 'settling');
}

function followSettling(step: Step): void {
  const { state, settings, now } = step;
  if (loadIsGone(step)) return;
  judgeWindow(step);
  if (settings.kind === 'limit_test') {
    state.waits = 'Attended test: mark each warning as it comes.';
  } else if (state.window?.steady) {
    state.opened_s = now - settings.window_s;
    enter(step, 'averaging');
  }
  endWhenLong(step);
}

function followAveraging(step: Step): void {
  const { state, settings, now } = step;
  if (loadIsGone(step)) return;
  judgeWindow(step);
  const w = state.window;
  // a window that clearly drifts again was opened too early
  if (w && !w.steady && Math.abs(w.slope) - w.reach > settings.slope_k_per_min) {
    state.opened_s = null;
    enter(step, 'settling');
    endWhenLong(step);
    return;
  }
  const wait = state.since_s + settings.window_s - now;
  const enough = settings.margin_k * ENOUGH_LEFT;
  if (wait > 0) state.waits = `Averaging for ${write(Math.ceil(wait), 0)} s more.`;
  else if (!w?.steady) state.waits = 'Waiting for the window to be flat again.';
  else if (!state.left || !isTellable(state.left, w)) state.waits = 'Flat, but the remaining change cannot be estimated yet.';
  else if (state.left.k >= enough)
    state.waits = `Flat, but up to ${write(state.left.k, 2)} K may still come: about ${minutes(state.left.tau_s * Math.log(state.left.k / enough))} more until that is under a fifth of the margin.`;
  const done = wait <= 0 && w?.steady && state.left && state.left.k < enough;
  if (done) endLoad(step, null);
  else endWhenLong(step);
}

/** A bound beyond the whole rise, or without a time, comes of a course that no exponential describes: it says nothing. */
const isTellable = ({ k, tau_s }: NonNullable<LiveState['left']>, window: LiveState['window']): boolean =>
  Number.isFinite(tau_s) && k < Math.abs(window?.rise_k ?? 0);

function followCooldown(step: Step): void {
  const { state, settings, now, ask } = step;
  // a command that got lost, as in a crash, is given again
  if (settings.switched && now - (state.asked_s ?? state.load_to_s ?? now) > AGAIN_S + settings.lag_s && isLoaded(step)) {
    ask('load_off');
    state.asked_s = now;
  }
  const last = state.closed.at(-1);
  const record = state.load_to_s !== null && now - state.load_to_s >= settings.cooldown_s;
  if (record && (last?.cycle ?? 0) < state.cycle) close(step, state.held ?? null);
  if (!record) {
    state.waits = 'Recording the cool-down.';
    return;
  }
  const done = state.cycle >= settings.cycles || (settings.kind === 'conditioning' && conditioning(state, settings).conditioned);
  if (done) {
    state.waits = settings.kind === 'conditioning' ? conditioningWords(state, settings) : 'Next: remount.';
    enter(step, 'finished');
    return;
  }
  if (state.held) {
    state.waits = state.held;
    return;
  }
  const start = startOf(step.trace, now - START_S, now, settings.room_c);
  const apart = startDifference(start, state.first);
  state.start = start;
  if (apart > ALIKE_K || now - (state.load_to_s ?? now) < START_S + settings.cooldown_s) {
    state.waits = coolingWords(step, Math.max(0, apart));
    return;
  }
  state.cycle++;
  state.cycle_from_s = now;
  Object.assign(state, { load_from_s: null, load_to_s: null, opened_s: null, window: null, left: null });
  enter(step, 'idle');
}

/** Judges the window that ends now. */
function judgeWindow({ state, trace, settings, now }: Step): void {
  const from = Math.max(now - settings.window_s, state.load_from_s ?? now);
  const { t, values } = trace.rise(from, now, settings.room_c);
  const test = slopeTest(t, values, settings.slope_k_per_min);
  if (!test) {
    state.window = null;
    return;
  }
  const whole = t.length > 1 && t[t.length - 1] - t[0] >= 0.9 * settings.window_s;
  state.window = { rise_k: test.mean, slope: test.slope, reach: test.reach, steady: test.steady && whole };
}

/** The run has what it needs, or has had its time: the load is switched off where it can be. */
function endLoad(step: Step, reason: string | null): void {
  const { state, settings, now, ask } = step;
  if (settings.switched) ask('load_off');
  if (settings.switched || !isLoaded(step)) {
    state.load_to_s = now;
    enter(step, 'cooldown');
    state.waits = 'Recording the cool-down.';
  } else state.waits = reason ?? 'Done: end the load.';
}

function endWhenLong(step: Step): void {
  const { state, settings, now } = step;
  if (now - (state.load_from_s ?? now) < settings.most_load_s) return;
  endLoad(step, `The load has had its ${minutes(settings.most_load_s)}: end it.${leftWords(state, settings)}`);
}

/** What a load that ends by the limit of patience may still have been short of; nothing where that is little. */
function leftWords({ left, window }: LiveState, { margin_k }: LiveSettings): string {
  if (!left || !isTellable(left, window)) return ' The remaining change cannot be estimated.';
  return left.k < margin_k * ENOUGH_LEFT ? '' : ` Up to ${write(left.k, 1)} K may still have been to come.`;
}

/** True, and the stage left, where the load fell away by itself: the cycle ends, or, after what was no load yet, its idle begins anew. */
function loadIsGone(step: Step): boolean {
  const { state, now } = step;
  const lasted = now - (state.load_from_s ?? now);
  if (isLoaded(step) || lasted < GONE_S) return false;
  // a load that was asked for, or switched off because nobody watched, is never switched on again by itself
  if (state.stage === 'load' && state.asked_s === null && !state.held && lasted < BRIEF_S) {
    Object.assign(state, { brief_s: lasted, cycle_from_s: now, load_from_s: null, window: null, left: null });
    enter(step, 'idle');
    return true;
  }
  state.load_to_s = now;
  state.waits = 'Recording the cool-down.';
  enter(step, 'cooldown');
  return true;
}

function close({ state, now }: Step, reason: string | null): void {
  if (state.closed.some((c) => c.cycle === state.cycle)) return;
  const unsteady = state.opened_s === null ? 'The run ended before it was steady.' : null;
  state.closed.push({
    cycle: state.cycle,
    from_s: state.cycle_from_s,
    to_s: now,
    rise_k: state.window?.rise_k ?? null,
    reason: reason ?? unsteady,
  });
  state.first ??= state.start;
}

export function conditioning(state: LiveState, settings: LiveSettings) {
  const values = state.closed.flatMap((c) => (c.rise_k !== null && c.reason === null ? c.rise_k : []));
  return judgeConditioning(values, settings.run_sd_k, settings.margin_k);
}

function conditioningWords(state: LiveState, settings: LiveSettings): string {
  const { conditioned, worsening, remaining_k, bound_k } = conditioning(state, settings);
  if (conditioned)
    return `Conditioned after ${state.closed.length} cycles: ${write(Math.max(0, remaining_k ?? 0), 2)} K left to gain, at most ${write(bound_k ?? 0, 2)} K.`;
  const cycles = plural(state.closed.length, 'cycle');
  if (worsening) return `It gets worse with every cycle, not better: look at the mount (${cycles}).`;
  if (bound_k === null || remaining_k === null) return `Not conditioned after ${cycles}: at least five are needed.`;
  if (remaining_k < settings.margin_k / 8) return `No further gain in ${cycles}, but up to ${write(bound_k, 2)} K may still come.`;
  return `Not conditioned after ${cycles}: up to ${write(bound_k, 2)} K may still come.`;
}

/** Power, else clock or load, else the speed of the rise tells whether the load is on. */
export function isLoaded({ state, trace, settings, now }: Pick<Step, 'state' | 'trace' | 'settings' | 'now'>): boolean {
  const power = trace.mean('power', now - DRIVE_S, now);
  if (power !== null) {
    // without a set-point the idle must be known first
    if (state.idle_w === null && settings.power_w === null) return false;
    const idle = state.idle_w ?? 0;
    const full = settings.power_w ?? Math.max(2.5 * idle, idle + 15);
    return power > idle + LOADED * (full - idle);
  }
  const share = trace.mean('load', now - DRIVE_S, now);
  if (share !== null) return share > 50;
  const from = meanOf(trace.rise(now - 20, now - 10, settings.room_c).values);
  const to = meanOf(trace.rise(now - 10, now, settings.room_c).values);
  // in a gap nothing is known, and nothing changes
  if (from === null || to === null) return state.stage !== 'idle';
  return state.stage === 'idle' ? to - from > 2 : to - from > -2;
}

/** First reading of the drive that was already up, at most 15 s back. */
function loadStart({ state, trace, settings, now }: Step): number {
  const [power] = trace.of('power');
  if (!power) return now;
  const { t, values } = power.series.span(now - 15, now);
  const idle = state.idle_w ?? 0;
  const full = settings.power_w ?? Math.max(2.5 * idle, idle + 15);
  const at = values.findIndex((v) => v > idle + LOADED * (full - idle));
  return at < 0 ? now : t[at];
}

function startOf(trace: LiveTrace, from: number, to: number, room: number | null): StartState {
  const rise = trace.rise(from, to, room);
  const coolant = trace.mean('coolant', from, to);
  const ambient = trace.mean('ambient', from, to) ?? room;
  return { sensor_rise_k: meanOf(rise.values), coolant_rise_k: coolant !== null && ambient !== null ? coolant - ambient : null };
}

/** What is waited for before a load: and that it is in vain, where the part hardly cools any more, as one whose interface got worse. */
function coolingWords({ trace, settings, now }: Step, apart: number): string {
  const { t, values } = trace.rise(now - COOLING_S, now, settings.room_c);
  const whole = t.length > 1 && t[t.length - 1] - t[0] >= 0.9 * COOLING_S;
  const fall = whole ? slopeTest(t, values, settings.slope_k_per_min) : null;
  if (fall && apart > ALIKE_K && apart - ALIKE_K > COOLING_PATIENCE_MIN * (fall.reach - fall.slope))
    return `It hardly cools any further: ${write(apart, 1)} K above the start of the mount's first run: it may idle warmer than it did, by its power, its fan or its interface. Check these, or end here; the readings are kept.`;
  return `Cooling down: ${write(apart, 1)} K above the start of the mount's first run.`;
}

/** By how much a start is warmer than the first one, K. */
function startDifference(start: StartState | null, first: StartState | null): number {
  if (!start || !first) return 0;
  const apart = (a: number | null, b: number | null) => (a === null || b === null ? 0 : a - b);
  return Math.max(apart(start.sensor_rise_k, first.sensor_rise_k), apart(start.coolant_rise_k, first.coolant_rise_k));
}

const minutes = (s: number): string => (s < 90 ? `${write(Math.ceil(s), 0)} s` : `${write(s / 60, s < 600 ? 1 : 0)} min`);
