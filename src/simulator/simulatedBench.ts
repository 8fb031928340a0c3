import { type Random, seededRandom } from '#core/stats/random';
import { DT_S, HeatPath, quantise } from './heatPath';
import type { SimulatedRig } from './rigs';

/** What goes wrong at the bench itself, whatever reads it. */
export const BENCH_FAULTS = ['throttle', 'no_start', 'fan_stall', 'door'] as const;
export type BenchFault = (typeof BENCH_FAULTS)[number];

export interface BenchSetting {
  rig: SimulatedRig;
  /** resistance of the interface as mounted, K/W */
  interface_k_per_w: number;
  room_c: number;
  seed: number;
  /** what hot hours take off the interface: its whole share in K/W, and the time under load that it takes, s */
  conditioning?: { gain_k_per_w: number; tau_s: number };
}

/** What the instruments of a bench show at one time. */
export interface BenchReadings {
  sensors: number[];
  ambient: number;
  power: number;
  clock: number;
  fan: number;
  noise_db: number;
  throttling: boolean;
}

/** Time constants of the sensors' noise and of the room, s; and how the fan and an open door act. */
const NOISE_TAU_S = 4;
const ROOM_TAU_S = 200;
const FAN_TAU_S = 2;
const DOOR_TAU_S = 40;
const DOOR_K = -3.5;
/** Resistance to the air of a sink whose fan stands still, against that at its speed. */
const STALLED = 3.2;

/**
 * A rig with its load, fan and room that goes on in its own time. It is asked for readings at any time and answers for that time;
 * the same seed and the same questions give the same answers.
 */
export class SimulatedBench {
  /** s since it was switched on */
  time = 0;
  readonly faults = new Set<BenchFault>();
  private readonly path: HeatPath;
  private readonly random: Random;
  private readonly noise: number[];
  private loaded = false;
  private hot_s = 0;
  private wander = 0;
  private door = 0;
  private fan: number;
  private readAt = 0;

  constructor(private setting: BenchSetting) {
    const { rig, room_c, seed } = setting;
    this.random = seededRandom(seed);
    this.path = new HeatPath(rig, setting.interface_k_per_w, room_c, 0);
    this.noise = rig.sensor_offsets_k_per_w.map(() => 0);
    this.fan = rig.fan_rpm;
  }

  /** Switches the load; one that fails its first start stays idle, and starts at the next try. */
  switchLoad(on: boolean): void {
    if (on && this.faults.delete('no_start')) return;
    this.loaded = on;
  }

  get isLoaded(): boolean {
    return this.loaded;
  }

  /** Resistance of the interface now, K/W. */
  get interface(): number {
    const { interface_k_per_w, conditioning } = this.setting;
    const worse = this.faults.has('throttle') ? 0.4 : 0;
    return interface_k_per_w - (conditioning ? conditioning.gain_k_per_w * (1 - Math.exp(-this.hot_s / conditioning.tau_s)) : 0) + worse;
  }

  /** Another specimen under the cooler, K/W. */
  remount(interface_k_per_w: number): void {
    this.setting = { ...this.setting, interface_k_per_w };
    this.hot_s = 0;
  }

  advance(to: number): void {
    const { rig, room_c } = this.setting;
    const sink = this.path.nodes[this.path.nodes.length - 1];
    const free = rig.ladder[rig.ladder.length - 1].resistance;
    while (this.time + DT_S <= to + 1e-9) {
      this.time += DT_S;
      this.fan += (((this.faults.has('fan_stall') ? 0 : rig.fan_rpm) - this.fan) * DT_S) / FAN_TAU_S;
      this.door += (((this.faults.has('door') ? DOOR_K : 0) - this.door) * DT_S) / DOOR_TAU_S;
      sink.resistance = free * (1 + (STALLED - 1) * (1 - Math.min(1, this.fan / rig.fan_rpm)));
      this.path.interface = this.interface;
      this.path.step(this.loaded, room_c + this.wander + this.door);
      if (this.loaded) this.hot_s += DT_S;
    }
  }

  /** Readings at its time, with noise that is correlated over seconds whatever the rate it is asked at. */
  read(): BenchReadings {
    const { rig, room_c } = this.setting;
    const passed = this.time - this.readAt;
    this.readAt = this.time;
    const ar = (value: number, tau: number, sd: number) => {
      const phi = Math.exp(-passed / tau);
      return phi * value + sd * Math.sqrt(1 - phi * phi) * this.random.normal();
    };
    this.wander = ar(this.wander, ROOM_TAU_S, 0.05);
    const { power, share, temperatures } = this.path;
    const sensors = rig.sensor_offsets_k_per_w.map((offset, i) => {
      this.noise[i] = ar(this.noise[i], NOISE_TAU_S, 0.12);
      return quantise(temperatures[0] + offset * power + this.noise[i], 0.1);
    });
    const turning = Math.max(0.05, this.fan / rig.fan_rpm);
    return {
      sensors,
      ambient: quantise(room_c + this.wander + this.door + 0.01 * this.random.normal(), 0.01),
      power: quantise(power * (1 + 0.003 * this.random.normal()), 0.1),
      clock: this.loaded ? Math.round(rig.clock_mhz * (0.5 + 0.5 * share)) : 600,
      fan: Math.max(0, Math.round(this.fan + (this.fan > 50 ? 4 * this.random.normal() : 0))),
      noise_db: quantise(10 * Math.log10(10 ** 2.6 + 10 ** (3.4 + 5 * Math.log10(turning))) + 0.15 * this.random.normal(), 0.1),
      throttling: this.loaded && share < 0.97,
    };
  }
}
