import { seededRandom } from '#core/stats/random';
import { type Node, stepLadder } from './network';

/** A rig as the simulator knows it. */
export interface SimulatedRig {
  /** die, lid, base, sink; the interface under test lies between lid and base and is added to the lid's resistance */
  ladder: Node[];
  /** offset of each die sensor from the junction, in K per W */
  sensor_offsets_k_per_w: number[];
  limit_c: number;
  idle_w: number;
  load_w: number;
  clock_mhz: number;
  fan_rpm: number;
}

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
}

export interface SimulatedSample {
  t: number;
  sensors: number[];
  ambient: number;
  power: number;
  clock: number;
  fan: number;
  throttling: boolean;
}

const DT_S = 0.1;

/**
 * One load cycle of a simulated rig: RC ladder, throttle governor, wandering room, AR(1) sensor noise, quantised readings.
 * The same seed gives the same log.
 */
export function simulateRun(rig: SimulatedRig, run: SimulatedRun): SimulatedSample[] {
  const random = seededRandom(run.seed);
  const nodes = rig.ladder.map((n, i) => (i === 1 ? { ...n, resistance: n.resistance + run.interface_k_per_w } : n));
  const temperatures = settle(nodes, rig.idle_w, run.room_c, run.warm_start_k);
  const noise = rig.sensor_offsets_k_per_w.map(() => 0);
  const total = run.idle_s + run.load_s + run.cooldown_s;
  const samples: SimulatedSample[] = [];
  let wander = 0;
  let share = 1;
  let next = 0;
  for (let step = 0; step * DT_S <= total; step++) {
    const t = step * DT_S;
    const loaded = t >= run.idle_s && t < run.idle_s + run.load_s;
    const air = run.room_c + (run.room_drift_k_per_h * t) / 3600 + wander;
    const power = loaded ? rig.load_w * share : rig.idle_w;
    stepLadder(nodes, temperatures, power, air, DT_S);
    const hottest = temperatures[0] + Math.max(...rig.sensor_offsets_k_per_w) * power;
    if (loaded && hottest > rig.limit_c) share = Math.max(0.5, share - 0.004);
    else if (share < 1) share = Math.min(1, share + 0.0015);
    if (t + 1e-9 < next) continue;
    // the room wanders as a slow first-order process of 0.05 K
    wander += -0.01 * wander + 0.007 * random.normal();
    const sensors = rig.sensor_offsets_k_per_w.map((offset, i) => {
      noise[i] = 0.6 * noise[i] + 0.1 * random.normal();
      return quantise(temperatures[0] + offset * power + noise[i], 0.1);
    });
    samples.push({
      t,
      sensors,
      ambient: quantise(air + 0.01 * random.normal(), 0.01),
      power: quantise(power * (1 + 0.003 * random.normal()), 0.1),
      clock: loaded ? Math.round(rig.clock_mhz * (0.5 + 0.5 * share)) : 600,
      fan: Math.round(rig.fan_rpm + 4 * random.normal()),
      throttling: loaded && share < 0.97,
    });
    next += run.period_s * (1 + 0.02 * (random.uniform() - 0.5));
  }
  return samples;
}

/** Idle temperatures at rest, the sink and base raised by what a start from warm leaves. */
function settle(nodes: Node[], idle: number, air: number, warm: number): Float64Array {
  const temperatures = new Float64Array(nodes.length);
  let above = 0;
  for (let i = nodes.length - 1; i >= 0; i--) {
    above += idle * nodes[i].resistance;
    temperatures[i] = air + above + warm;
  }
  return temperatures;
}

function quantise(value: number, step: number): number {
  return Math.round(value / step) * step;
}
