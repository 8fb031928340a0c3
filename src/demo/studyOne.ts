import { seededRandom } from '#core/stats/random';
import type { SpecimenKind } from '#features/shelf/model/materials';
import { NORTH_BENCH } from '#simulator/rigs';
import type { SimulatedRun } from '#simulator/simulateRun';
import type { DemoRun } from './demoStudy';

/** Study 1 of the demo: eight materials on the lid of the TM-6 correlator card, five mounts each. */

interface Material {
  name: string;
  kind: SpecimenKind;
  file: string;
  /** mean resistance as mounted, K/W, and its scatter between mounts in K at 140 W */
  resistance: number;
  mount_sd_k: number;
}

export const MATERIALS: Material[] = [
  { name: 'Loam White', kind: 'paste', file: 'loam-white', resistance: 0.0585, mount_sd_k: 0.5 },
  { name: 'Alder Grey', kind: 'paste', file: 'alder-grey', resistance: 0.0602, mount_sd_k: 0.5 },
  { name: 'Bramble 5', kind: 'paste', file: 'bramble-5', resistance: 0.0532, mount_sd_k: 0.45 },
  { name: 'Wick 60', kind: 'phase_change', file: 'wick-60', resistance: 0.045, mount_sd_k: 0.3 },
  { name: 'Slip Felt 0.5', kind: 'pad', file: 'slip-felt', resistance: 0.104, mount_sd_k: 0.8 },
  { name: 'Soot Leaf', kind: 'graphite', file: 'soot-leaf', resistance: 0.068, mount_sd_k: 0.6 },
  { name: 'Tarn', kind: 'liquid_metal', file: 'tarn', resistance: 0.0335, mount_sd_k: 0.9 },
  { name: 'Hearthbond', kind: 'epoxy', file: 'hearthbond', resistance: 0.081, mount_sd_k: 0.5 },
];

export const MOUNTS = 5;

/** What goes wrong in the study, by specimen, mount and run. */
const MISHAPS: Record<string, { note?: string; change: Partial<SimulatedRun> }> = {
  'Slip Felt 0.5/3/1': { note: 'Pad creased at one corner, cooler sits tilted', change: { interface_k_per_w: 0.37 } },
  'Slip Felt 0.5/3/2': { change: { interface_k_per_w: 0.37 } },
  'Alder Grey/2/2': { change: { room_drift_k_per_h: 2.4 } },
  'Bramble 5/4/1': { change: { load_s: 330 } },
  'Tarn/2/2': { change: { warm_start_k: 9, idle_s: 120 } },
  'Hearthbond/5/2': { change: { room_drift_k_per_h: -1.8 } },
};

const FIRST_DAY = Date.UTC(2026, 5, 2, 7, 30) / 1000;
const DAY_S = 86_400;

/** All runs of the study, the same every time: the first runs of a round of mounts, then their second ones, and so on. */
export function demoRuns(): DemoRun[] {
  const random = seededRandom(20260602);
  const rounds: DemoRun[][] = [];
  for (let mount = 1; mount <= MOUNTS; mount++) {
    MATERIALS.forEach((material, m) => {
      const resistance = material.resistance + (material.mount_sd_k / NORTH_BENCH.load_w) * random.normal();
      const room = 22.5 + 0.8 * random.normal();
      const count = mount <= 2 ? 3 : 2;
      for (let run = 1; run <= count; run++) {
        const mishap = MISHAPS[`${material.name}/${mount}/${run}`];
        const round = 3 * (mount - 1) + run;
        rounds[round] = rounds[round] ?? [];
        rounds[round].push({
          specimen: material.name,
          mount,
          run,
          file: `${material.file}_m${mount}_r${run}.csv`,
          note: mishap?.note ?? '',
          start: FIRST_DAY + (2 * mount + (m > 3 ? 1 : 0)) * DAY_S + (m % 4) * 2.4 * 3600 + (run - 1) * 2200,
          rig: NORTH_BENCH,
          simulated: {
            interface_k_per_w: resistance + (0.12 / NORTH_BENCH.load_w) * random.normal(),
            idle_s: 240,
            load_s: 1200,
            cooldown_s: 160,
            period_s: 2,
            room_c: room,
            room_drift_k_per_h: 0.15 * random.normal(),
            warm_start_k: 0,
            seed: 1000 * (m + 1) + 10 * mount + run,
            ...mishap?.change,
          },
        });
      }
    });
  }
  return rounds.flat();
}
