import { courseSoFar } from '#core/live/courseSoFar';
import { beginIdle, beginState, follow } from '#core/live/follow';
import { forecastSteady } from '#core/live/forecast';
import { LiveTrace } from '#core/live/liveTrace';
import { LIVE_DEFAULTS, type LiveAction, type LiveChannel, type LiveSettings, type LiveState } from '#core/live/types';
import { type Alarm, watch } from '#core/live/watch';
import { NORTH_BENCH } from '#simulator/rigs';
import { type BenchSetting, SimulatedBench } from '#simulator/simulatedBench';

const channel = (name: string, role: LiveChannel['role'], unit: LiveChannel['unit'], source: string): LiveChannel => ({
  name,
  role,
  unit,
  source,
  period_s: 1,
});

export const CHANNELS: LiveChannel[] = [
  ...[1, 2, 3, 4].map((i) => channel(`Die ${i}`, 'sensor', 'degC', 'thermometer')),
  channel('Room', 'ambient', 'degC', 'thermometer'),
  channel('Power', 'power', 'W', 'power meter'),
  channel('Clock', 'clock', 'MHz', 'host'),
  channel('Fan', 'fan', 'rpm', 'tachometer'),
  channel('Throttling', 'throttle', null, 'host'),
];

const FORECAST_S = 30;

export interface Followed {
  state: LiveState;
  trace: LiveTrace;
  bench: SimulatedBench;
  /** alarms with the time each was first raised */
  alarms: Map<string, Alarm & { at_s: number }>;
  stages: string[];
}

/**
 * Follows a simulated bench second by second, as the server does, until the machine is done.
 * @param at what happens at the bench, by time
 */
export function followBench(
  settings: Partial<LiveSettings>,
  bench: Partial<BenchSetting> = {},
  at: (t: number, bench: SimulatedBench, state: LiveState) => void = () => {},
  most_s = 40_000,
): Followed {
  const said: LiveSettings = {
    ...LIVE_DEFAULTS,
    limit_c: NORTH_BENCH.limit_c,
    power_w: NORTH_BENCH.load_w,
    fan_rpm: NORTH_BENCH.fan_rpm,
    switched: true,
    ...settings,
  };
  const sim = new SimulatedBench({ rig: NORTH_BENCH, interface_k_per_w: 0.06, room_c: 22, seed: 3, ...bench });
  const trace = new LiveTrace(CHANNELS);
  let state = beginState(0, said);
  const alarms: Followed['alarms'] = new Map();
  const stages: string[] = ['preflight'];
  const act: Record<LiveAction, () => void> = {
    load_on: () => sim.switchLoad(true),
    load_off: () => sim.switchLoad(false),
    cut_off: () => sim.switchLoad(false),
  };
  for (let t = 1; t <= most_s && state.stage !== 'finished' && state.stage !== 'stopped'; t++) {
    sim.advance(t);
    at(t, sim, state);
    record(trace, sim, t);
    if (t === 20) state = beginIdle({ ...state, t });
    // the server asks a worker; here the answer comes at once
    const course = t % FORECAST_S === 0 && state.stage === 'averaging' ? courseSoFar(trace, state, said) : null;
    const told = course && forecastSteady(course.t, course.rise, course.power, said);
    if (told) state = { ...state, left: { k: told.left_k, tau_s: told.tau_s } };
    const step = follow(state, trace, said, t);
    state = step.state;
    for (const action of step.actions) act[action]();
    for (const alarm of watch(state, trace, said)) if (!alarms.has(alarm.code)) alarms.set(alarm.code, { ...alarm, at_s: t });
    if (stages.at(-1) !== state.stage) stages.push(state.stage);
  }
  return { state, trace, bench: sim, alarms, stages };
}

function record(trace: LiveTrace, sim: SimulatedBench, t: number): void {
  const r = sim.read();
  r.sensors.forEach((v, i) => {
    trace.append(`Die ${i + 1}`, t, v);
  });
  for (const [name, value] of [
    ['Room', r.ambient],
    ['Power', r.power],
    ['Clock', r.clock],
    ['Fan', r.fan],
    ['Throttling', r.throttling ? 1 : 0],
  ] as const)
    trace.append(name, t, value);
}
