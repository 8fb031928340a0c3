import type { TimedMount } from '#core/design/orderTypes';
import { seededRandom } from '#core/stats/random';
import { SOUTH_BENCH } from '#simulator/rigs';
import type { DemoRun } from './demoStudy';
import { MATERIALS } from './studyOne';

/** Bench days of the half-done study that are behind it. */
export const DAYS_DONE = 3;
const RUNS = 2;

/**
 * Runs of the half-done study: those of its first bench days, at the times its order gave them.
 * @param start seconds since 1970 of the start of the first bench day
 */
export function southHutRuns(order: TimedMount[], start: number): DemoRun[] {
  const random = seededRandom(20260901);
  return order
    .filter((m) => m.runs_day <= DAYS_DONE)
    .flatMap((m) => {
      const material = MATERIALS.find((x) => x.name === m.specimen) ?? MATERIALS[0];
      const resistance = material.resistance + (0.8 * material.mount_sd_k * random.normal()) / SOUTH_BENCH.load_w;
      const room = 22 + 0.7 * random.normal();
      const length = (m.end_min - m.runs_start_min) / RUNS;
      return Array.from({ length: RUNS }, (_, r) => ({
        specimen: m.specimen,
        mount: m.mount,
        run: r + 1,
        file: `south_${material.file}_m${m.mount}_r${r + 1}.csv`,
        note: '',
        start: start + 60 * (m.runs_start_min + r * length),
        rig: SOUTH_BENCH,
        simulated: {
          interface_k_per_w: resistance + (0.12 / SOUTH_BENCH.load_w) * random.normal(),
          ...{
            idle_s: 240,
            load_s: 1200,
            cooldown_s: 160,
            period_s: 2,
            room_c: room,
            room_drift_k_per_h: 0.15 * random.normal(),
            warm_start_k: 0,
          },
          seed: 90_000 + 100 * m.mount + 10 * MATERIALS.indexOf(material) + r,
        },
      }));
    });
}
