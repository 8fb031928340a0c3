import { type Node, stepLadder } from './network';
import type { SimulatedRig } from './rigs';

/** Share of its power a throttled part keeps at least, and how fast its governor takes and gives it, per step of 0.1 s. */
const LEAST_SHARE = 0.5;
const TAKE = 0.004;
const GIVE = 0.0015;

/** Longest explicit step, s. */
export const DT_S = 0.1;

/** The part under its cooler: the temperatures of a rig's RC ladder, and the governor that takes power away at the limit. */
export class HeatPath {
  readonly nodes: Node[];
  readonly temperatures: Float64Array;
  /** share of power and clock that the governor leaves */
  share = 1;
  /** W now */
  power: number;

  constructor(
    private readonly rig: SimulatedRig,
    interface_k_per_w: number,
    air: number,
    warm_k: number,
  ) {
    this.nodes = rig.ladder.map((n, i) => (i === 1 ? { ...n, resistance: n.resistance + interface_k_per_w } : { ...n }));
    this.temperatures = settle(this.nodes, rig.idle_w, air, warm_k);
    this.power = rig.idle_w;
  }

  /** The interface under test, which conditioning and pump-out change, K/W. */
  set interface(k_per_w: number) {
    this.nodes[1].resistance = this.rig.ladder[1].resistance + k_per_w;
  }

  /** W that the sink gives to the air at the last step */
  outflow_w = 0;

  /** One step of 0.1 s. */
  step(loaded: boolean, air: number): void {
    this.power = loaded ? this.rig.load_w * this.share : this.rig.idle_w;
    const last = this.nodes.length - 1;
    this.outflow_w = (this.temperatures[last] - air) / this.nodes[last].resistance;
    stepLadder(this.nodes, this.temperatures, this.power, air, DT_S);
    const hottest = this.temperatures[0] + Math.max(...this.rig.sensor_offsets_k_per_w) * this.power;
    if (loaded && hottest > this.rig.limit_c) this.share = Math.max(LEAST_SHARE, this.share - TAKE);
    else if (this.share < 1) this.share = Math.min(1, this.share + GIVE);
  }
}

/** Idle temperatures at rest, raised by what a start from warm leaves. */
function settle(nodes: Node[], idle: number, air: number, warm: number): Float64Array {
  const temperatures = new Float64Array(nodes.length);
  let above = 0;
  for (let i = nodes.length - 1; i >= 0; i--) {
    above += idle * nodes[i].resistance;
    temperatures[i] = air + above + warm;
  }
  return temperatures;
}

export const quantise = (value: number, step: number): number => Math.round(value / step) * step;
