import { seededRandom } from '#core/stats/random';
import { NORTH_BENCH } from '#simulator/rigs';
import type { DemoRun } from './demoStudy';
import { MATERIALS } from './studyOne';

/** Study 5 of the demo: one lid as it was made and lapped flat. It gains less than what matters. */

const MOUNTS = 5;
/** The first mounts are read fast enough to tell where the states part. */
const STEP_PERIOD_S = 0.1;
const STATES = [
  { specimen: 'Lid as made', file: 'as_made', gain_k: 0 },
  { specimen: 'Lid lapped', file: 'lapped', gain_k: 0.5 },
];

/** @param start seconds since 1970 of the first run */
export function lappedLidRuns(start: number): DemoRun[] {
  const random = seededRandom(7);
  const filler = MATERIALS.find((m) => m.name === 'Bramble 5') ?? MATERIALS[0];
  return STATES.flatMap(({ specimen, file, gain_k }, s) =>
    Array.from(
      { length: MOUNTS },
      (_, m): DemoRun => ({
        ...{ specimen, mount: m + 1, run: 1, file: `lid_${file}_m${m + 1}.csv`, note: '' },
        start: start + (s * MOUNTS + m) * 43_200,
        rig: NORTH_BENCH,
        simulated: {
          interface_k_per_w: filler.resistance + (0.25 * random.normal() - gain_k) / NORTH_BENCH.load_w,
          ...{ idle_s: 120, load_s: 1150, cooldown_s: 60, period_s: m === 0 ? STEP_PERIOD_S : 5, warm_start_k: 0 },
          ...{ room_c: 22.5 + 0.5 * random.normal(), room_drift_k_per_h: 0.1 * random.normal(), seed: 97_000 + 100 * s + m },
        },
      }),
    ),
  );
}
