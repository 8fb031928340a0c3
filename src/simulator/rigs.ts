import type { Node } from './network';

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

/** The rigs of the demo: the lid of a TM-6 correlator card under its cooler. */
export const NORTH_BENCH: SimulatedRig = {
  ladder: [
    { capacity: 18, resistance: 0.052 },
    { capacity: 70, resistance: 0.012 },
    { capacity: 210, resistance: 0.03 },
    { capacity: 420, resistance: 0.142 },
  ],
  sensor_offsets_k_per_w: [0.0125, 0.004, -0.003, -0.0135],
  limit_c: 92,
  idle_w: 14,
  load_w: 140,
  clock_mhz: 2100,
  fan_rpm: 1200,
};

export const SOUTH_BENCH: SimulatedRig = {
  ...NORTH_BENCH,
  ladder: NORTH_BENCH.ladder.map((n, i) => (i === 3 ? { ...n, resistance: n.resistance + 0.006 } : n)),
  sensor_offsets_k_per_w: [0.011, 0.005, -0.004, -0.012],
};
