import { seededRandom } from '#core/stats/random';
import { NORTH_BENCH } from '#simulator/rigs';
import type { DemoRun } from './demoStudy';
import { MATERIALS } from './studyOne';

/** Study 4 of the demo: a paste that slowly pumps out, and a phase-change sheet that conditions and then stays. */

export const AGES_DAYS = [0, 7, 14, 30, 60];
const MOUNTS = 4;
const DAY_S = 86_400;
/** The first mount of each is read fast enough, fresh and aged, to tell which layer aged. */
const STEP_PERIOD_S = 0.1;
const isStep = (mount: number, days: number) => mount === 0 && (days === 0 || days === 60);

/** Change with age in K at the load. */
const COURSES: Record<string, (days: number) => number> = {
  'Bramble 5': (days) => 1.6 * (days / 60),
  'Wick 60': (days) => -0.4 * (1 - Math.exp(-days / 4)),
};

/** @param start seconds since 1970 of the first run of the first mount */
export function sixtyDaysRuns(start: number): DemoRun[] {
  const random = seededRandom(60);
  return Object.entries(COURSES).flatMap(([specimen, course], s) => {
    const material = MATERIALS.find((m) => m.name === specimen) ?? MATERIALS[0];
    return Array.from({ length: MOUNTS }, (_, m) => {
      const mounted = material.resistance + (material.mount_sd_k * random.normal()) / NORTH_BENCH.load_w;
      const own = 1 + 0.15 * random.normal();
      return AGES_DAYS.map(
        (days, r): DemoRun => ({
          ...{ specimen, mount: m + 1, run: r + 1, file: `aged_${material.file}_m${m + 1}_d${days}.csv`, note: '' },
          start: start + days * DAY_S + (s * MOUNTS + m) * 3000,
          rig: NORTH_BENCH,
          simulated: {
            interface_k_per_w: mounted + (own * course(days) + 0.1 * random.normal()) / NORTH_BENCH.load_w,
            ...{ idle_s: 120, load_s: 1150, cooldown_s: 60, period_s: isStep(m, days) ? STEP_PERIOD_S : 5, warm_start_k: 0 },
            ...{ room_c: 22.5 + 0.5 * random.normal(), room_drift_k_per_h: 0.1 * random.normal(), seed: 95_000 + 1000 * s + 10 * m + r },
          },
        }),
      );
    }).flat();
  });
}
