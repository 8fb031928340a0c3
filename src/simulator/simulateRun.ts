import { exhaustRise } from '#core/compare/exhaust';
import { seededRandom } from '#core/stats/random';
import type { BenchReadings } from '#simulator/simulatedBench';
import { DT_S, HeatPath, quantise } from './heatPath';
import type { SimulatedRig } from './rigs';

export interface SimulatedRun {
  /** resistance of the interface as mounted, K/W */
  interface_k_per_w: number;
  idle_s: number;
  load_s: number;
  cooldown_s: number;
  period_s: number;
  room_c: number;
  /** steady warming of the room, K/h */
  room_drift_k_per_h: number;
  /** how much hotter than a cold start the sink begins, K */
  warm_start_k: number;
  seed: number;
  /** air through the cooler at the rig's fan speed, m³/s; the log then has the exhaust's temperature */
  flow_m3_s?: number;
  /** level of the fan at the meter and of the room, dB; the log then has the sound level */
  sound?: { fan_db: number; floor_db: number };
}

export interface SimulatedSample extends Pick<BenchReadings, 'sensors' | 'ambient' | 'power' | 'clock' | 'fan' | 'throttling'> {
  t: number;
  /** °C of the air that leaves the cooler; null where it is not measured */
  exhaust: number | null;
  /** dB of fan and room together; null where it is not measured */
  sound: number | null;
}

/** Level of the fan and the room together. */
const together = ({ fan_db, floor_db }: { fan_db: number; floor_db: number }): number =>
  10 * Math.log10(10 ** (fan_db / 10) + 10 ** (floor_db / 10));

/**
 * One load cycle of a simulated rig: RC ladder, throttle governor, wandering room, AR(1) sensor noise, quantised readings.
 * The same seed gives the same log.
 */
export function simulateRun(rig: SimulatedRig, run: SimulatedRun): SimulatedSample[] {
  const random = seededRandom(run.seed);
  const path = new HeatPath(rig, run.interface_k_per_w, run.room_c, run.warm_start_k);
  const noise = rig.sensor_offsets_k_per_w.map(() => 0);
  const total = run.idle_s + run.load_s + run.cooldown_s;
  const samples: SimulatedSample[] = [];
  let wander = 0;
  let next = 0;
  for (let step = 0; step * DT_S <= total; step++) {
    const t = step * DT_S;
    const loaded = t >= run.idle_s && t < run.idle_s + run.load_s;
    const air = run.room_c + (run.room_drift_k_per_h * t) / 3600 + wander;
    path.step(loaded, air);
    const { power, share } = path;
    if (t + 1e-9 < next) continue;
    // the room wanders as a slow first-order process of 0.05 K
    wander += -0.01 * wander + 0.007 * random.normal();
    const sensors = rig.sensor_offsets_k_per_w.map((offset, i) => {
      noise[i] = 0.6 * noise[i] + 0.1 * random.normal();
      return quantise(path.temperatures[0] + offset * power + noise[i], 0.1);
    });
    samples.push({
      t,
      sound: null,
      sensors,
      ambient: quantise(air + 0.01 * random.normal(), 0.01),
      power: quantise(power * (1 + 0.003 * random.normal()), 0.1),
      clock: loaded ? Math.round(rig.clock_mhz * (0.5 + 0.5 * share)) : 600,
      fan: Math.round(rig.fan_rpm + 4 * random.normal()),
      throttling: loaded && share < 0.97,
      exhaust:
        run.flow_m3_s === undefined ? null : quantise(air + exhaustRise(path.outflow_w, run.flow_m3_s) + 0.05 * random.normal(), 0.1),
    });
    if (run.sound) samples[samples.length - 1].sound = quantise(together(run.sound) + 0.3 * random.normal(), 0.1);
    next += run.period_s * (1 + 0.02 * (random.uniform() - 0.5));
  }
  return samples;
}
