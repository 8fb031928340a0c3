import { seededRandom } from '#core/stats/random';
import { type SimulatedRig, SOUTH_BENCH } from '#simulator/rigs';
import type { DemoRun } from './demoStudy';

/** Study 3 of the demo: an old hut card before and after refurbishing; before, its fan was dusty and its filler dry, and it throttled. */

const RUNS = 3;
const AFTER_MOUNTS = 3;
/** air through the clean cooler at the full fan speed */
const CLEAN_M3_S = 0.0105;

/** The card as found: a sink full of dust, and a fan that its dust slows down. */
const AS_FOUND: SimulatedRig = {
  ...SOUTH_BENCH,
  ladder: SOUTH_BENCH.ladder.map((n, i) => (i === 3 ? { ...n, resistance: n.resistance + 0.075 } : n)),
  fan_rpm: 1060,
};

/**
 * Runs of the study: one state as found, which cannot be mounted again, and the refurbished card mounted three times.
 * @param start seconds since 1970 of the first run
 */
export function hutCardRuns(start: number): DemoRun[] {
  const random = seededRandom(41);
  const states = [
    {
      specimen: 'As found',
      file: 'as_found',
      rig: AS_FOUND,
      mounts: 1,
      interface_k_per_w: 0.26,
      scatter_k: 0,
      flow: (0.72 * CLEAN_M3_S * 1060) / 1200,
    },
    {
      specimen: 'Refurbished',
      file: 'refurbished',
      rig: SOUTH_BENCH,
      mounts: AFTER_MOUNTS,
      interface_k_per_w: 0.0545,
      scatter_k: 0.45,
      flow: CLEAN_M3_S,
    },
  ];
  return states.flatMap(({ specimen, file, rig, mounts, interface_k_per_w, scatter_k, flow }, state) =>
    Array.from({ length: mounts }, (_, m) => {
      const mounted = interface_k_per_w + (scatter_k * random.normal()) / rig.load_w;
      return Array.from({ length: RUNS }, (_, r): DemoRun => {
        const day = state === 0 ? 0 : 1 + m;
        return {
          ...{ specimen, mount: m + 1, run: r + 1, file: `hut_${file}_m${m + 1}_r${r + 1}.csv` },
          note: state === 0 && r === 0 ? 'As it came from the hut: dust in the fins, filler dry' : '',
          start: start + day * 86_400 + r * 2200,
          rig,
          scored: true,
          simulated: {
            interface_k_per_w: mounted + (0.12 * random.normal()) / rig.load_w,
            ...{
              idle_s: 240,
              load_s: 1200,
              cooldown_s: 160,
              period_s: 2,
              room_c: 23 + 0.6 * random.normal(),
              room_drift_k_per_h: 0.1 * random.normal(),
            },
            ...{ warm_start_k: 0, seed: 70_000 + 100 * state + 10 * m + r, flow_m3_s: flow },
          },
        };
      });
    }).flat(),
  );
}
