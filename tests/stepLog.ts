import type { LogTime } from '#core/signal/logs/types';
import { ANY_AMBIENT, type Channel, type Trace } from '#core/signal/trace/types';
import { seededRandom } from '#core/stats/random';
import type { CauerLadder } from '#core/thermal/transient/cauer';
import { fosterChain } from '#core/thermal/transient/fosterFromLadder';
import { driveOf } from '../src/core/signal/trace/stages.ts';

/** How a log of idle, load and cool-down over a ladder is written: every field has a calm default. */
export interface StepLog {
  seed?: number;
  power_w?: number;
  interval_s?: number;
  idle_s?: number;
  heating_s?: number;
  cooling_s?: number;
  noise_k?: number;
  /** share of each reading's scatter that goes on to the next */
  carried?: number;
  resolution_k?: number;
  /** time over which the power rises and falls, s; straight */
  ramp_s?: number;
  /** the power rises as an exponential with this time constant instead, s */
  lag_s?: number;
  /** what is left of an earlier state at the beginning of the log, K, in the body's slowest time constants */
  rest_k?: number;
  /** fan speed at a time after the load came on */
  fan?: (s: number) => number;
  /** share by which the power has moved at the end of the load */
  powerMoves?: number;
  powerLogged?: boolean;
  /** scatter of the logged power, W */
  powerNoise_w?: number;
}

const CALM = {
  ...{ seed: 1, power_w: 140, interval_s: 0.1, idle_s: 40, heating_s: 1200, cooling_s: 0, noise_k: 0.1, carried: 0, resolution_k: 0.1 },
  ...{ ramp_s: 0, lag_s: 0, rest_k: 0, powerMoves: 0, powerLogged: true, powerNoise_w: 0 },
};

/** A log of idle, load and cool-down over a ladder, as a bench writes it: with scatter, in steps, in a room that drifts. */
export function stepLog(ladder: CauerLadder, given: StepLog = {}): Trace {
  const s = { ...CALM, ...given };
  const random = seededRandom(s.seed);
  // the switch is thrown between two readings
  const on = s.idle_s + s.interval_s * random.uniform();
  const off = on + s.heating_s;
  const n = Math.round((s.idle_s + s.heating_s + s.cooling_s) / s.interval_s);
  const t = Float64Array.from({ length: n }, (_, i) => i * s.interval_s);
  const edge = (x: number) => {
    if (x <= 0) return 0;
    if (s.lag_s > 0) return -Math.expm1(-x / s.lag_s);
    return s.ramp_s > 0 ? Math.min(1, x / s.ramp_s) : 1;
  };
  const power = (x: number) =>
    s.power_w * (edge(x - on) * (1 + (s.powerMoves * Math.min(Math.max(0, x - on), s.heating_s)) / s.heating_s) - edge(x - off));
  const chain = fosterChain(ladder);
  const answer = responseTo(chain, power, t, s.interval_s, s.rest_k);
  const room = t.map((x) => 22 + (0.3 * x) / 3600);
  let carried = random.normal() / Math.sqrt(1 - s.carried ** 2);
  const part = t.map((_, i) => {
    carried = s.carried * carried + random.normal();
    return Math.round((room[i] + answer[i] + s.noise_k * Math.sqrt(1 - s.carried ** 2) * carried) / s.resolution_k) * s.resolution_k;
  });
  const channel = (
    name: string,
    role: Channel['role'],
    unit: Channel['unit'],
    values: Float64Array,
    resolution: number | null = null,
  ): Channel => ({
    ...{ name, file: 'step.csv', role, unit, t, values, clean: values, resolution, rise: false, period_s: s.interval_s },
    ...{
      missing: 0,
      spikes: 0,
      stuck: false,
      dead: false,
      died_s: null,
      labelled: true,
      guessed_f: false,
      doubtful_f: false,
      constant: false,
    },
    place: role === 'ambient' ? 'room' : null,
  });
  const channels = [channel('Die', 'sensor', 'degC', part, s.resolution_k), channel('Room', 'ambient', 'degC', room)];
  if (s.powerLogged) {
    const meter = t.map((x) => power(x) + s.powerNoise_w * random.normal());
    channels.push(channel('Power', 'power', 'W', meter));
  }
  const { fan } = s;
  if (fan) {
    const speeds = t.map((x) => fan(x - on));
    channels.push(channel('Fan', 'fan', 'rpm', speeds));
  }
  return {
    files: [
      {
        ...{ name: 'step.csv', time: {} as LogTime, rows: { partial: 0, ragged: 0, repeated: 0, summary: 0, out_of_order: 0 } },
        ...{ kept: n, clock: { changes: [], steps: [], coarse_s: null }, unused: [] },
      },
    ],
    ...{
      channels,
      room: ANY_AMBIENT,
      drive: driveOf(channels),
      clock_offset_s: {},
      correlated: {},
      samples: n,
      period_s: s.interval_s,
      duration_s: t[n - 1],
    },
  };
}

/**
 * Temperature of the sensor over the room: every stage of the chain by its own difference equation, in steps so fine that an edge is met to
 * a hundredth.
 */
function responseTo(
  { R, tau }: { R: number[]; tau: number[] },
  power: (x: number) => number,
  t: Float64Array,
  interval_s: number,
  rest_k: number,
): Float64Array {
  const fine = Math.max(1, Math.round(interval_s / 0.005));
  const h = interval_s / fine;
  const slowest = tau.indexOf(Math.max(...tau));
  const state = R.map((_, j) =>
    j === slowest ? 0.8 * rest_k : 0.2 * rest_k * (R.length === 1 ? 0 : R[j] / (R.reduce((a, b) => a + b, 0) - R[slowest])),
  );
  const decay = tau.map((x) => Math.exp(-h / x));
  return t.map((x, i) => {
    if (i > 0)
      for (let k = 0; k < fine; k++) {
        const p = power(x - interval_s + (k + 0.5) * h);
        for (let j = 0; j < R.length; j++) state[j] = state[j] * decay[j] + R[j] * p * (1 - decay[j]);
      }
    return state.reduce((a, b) => a + b, 0);
  });
}
