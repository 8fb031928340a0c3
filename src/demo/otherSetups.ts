import { seededRandom } from '#core/stats/random';
import { NORTH_BENCH, type SimulatedRig, SOUTH_BENCH } from '#simulator/rigs';
import type { DemoRun } from './demoStudy';
import { MATERIALS } from './studyOne';

/** Some of the materials in two more set-ups: under the loop, and under the flat cooler at a smaller load. */

const MOUNTS = 3;
const DAY_S = 86_400;

/** The loop draws more from its base, and presses harder. */
const LOOP: SimulatedRig = {
  ...NORTH_BENCH,
  ladder: NORTH_BENCH.ladder.map((n, i) => (i === 3 ? { ...n, resistance: 0.104 } : n)),
};
const FLAT: SimulatedRig = {
  ...SOUTH_BENCH,
  ladder: SOUTH_BENCH.ladder.map((n, i) => (i === 3 ? { ...n, resistance: 0.236 } : n)),
  load_w: 90,
  clock_mhz: 1500,
};
/** What a pad gains where it is pressed harder, K/W; the others hardly answer to it. */
const PAD_GAIN = 0.021;

/** @param start seconds since 1970 of the first run */
export const underLoopRuns = (start: number): DemoRun[] =>
  runsOf(['Loam White', 'Wick 60', 'Slip Felt 0.5', 'Soot Leaf', 'Tarn'], LOOP, 'loop', start, (name) =>
    name === 'Slip Felt 0.5' ? PAD_GAIN : 0.0005,
  );

/** @param start seconds since 1970 of the first run */
export const flatCoolerRuns = (start: number): DemoRun[] =>
  runsOf(['Loam White', 'Alder Grey', 'Bramble 5', 'Wick 60'], FLAT, 'flat', start, () => 0);

/** A round of mounts each day, one run each. */
function runsOf(names: string[], rig: SimulatedRig, file: string, start: number, gainOf: (name: string) => number): DemoRun[] {
  const random = seededRandom(file.length * 1000 + names.length);
  return Array.from({ length: MOUNTS }, (_, m) =>
    names.map((specimen, i): DemoRun => {
      const material = MATERIALS.find((x) => x.name === specimen) ?? MATERIALS[0];
      return {
        ...{ specimen, mount: m + 1, run: 1, file: `${file}_${material.file}_m${m + 1}.csv`, note: '', rig },
        start: start + m * DAY_S + i * 5000,
        simulated: {
          interface_k_per_w: material.resistance - gainOf(specimen) + (0.7 * material.mount_sd_k * random.normal()) / NORTH_BENCH.load_w,
          ...{ idle_s: 240, load_s: 1200, cooldown_s: 160, period_s: 5, warm_start_k: 0 },
          ...{
            room_c: 22.5 + 0.5 * random.normal(),
            room_drift_k_per_h: 0.1 * random.normal(),
            seed: 70_000 + 1000 * names.length + 10 * m + i,
          },
        },
      };
    }),
  ).flat();
}
