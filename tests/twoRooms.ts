import { NORTH_BENCH } from '#simulator/rigs';
import { simulateRun } from '#simulator/simulateRun';

/** A log with two probes of the room that are so far apart, and the mean temperatures of the part it was made with. */
export function twoRooms(seed: number, apart_k: number): Uint8Array<ArrayBuffer> {
  const run = {
    interface_k_per_w: 0.06,
    idle_s: 120,
    load_s: 1500,
    cooldown_s: 60,
    period_s: 2,
    room_c: 22,
    room_drift_k_per_h: 0,
    warm_start_k: 0,
    seed,
  };
  const lines = simulateRun(NORTH_BENCH, run).map((s) =>
    [s.t.toFixed(1), s.sensors[0].toFixed(1), s.ambient.toFixed(2), (s.ambient + apart_k).toFixed(2), s.power.toFixed(1)].join(','),
  );
  return new TextEncoder().encode(`Time (s),Die (°C),Room (°C),Shelf air ambient (°C),Power (W)\n${lines.join('\n')}\n`);
}
