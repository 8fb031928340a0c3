import { analyse } from '#core/compare/analyse';
import type { SharedError } from '#core/compare/types';
import { type Random, seededRandom } from '#core/stats/random';
import { atLevel, fitSweep, type SweepPoint } from '#core/thermal/coolers/sweep';
import { count, empty, JUDGES, type Judge, judged, type Tally } from './tally';

/** Coolers that are swept over their fan speeds and compared at a noise. */
export interface SweepCondition {
  key: string;
  says: string;
  coolers: { name: string; rise_k: number; level_db: number }[];
  mounts: number;
  at_db: number;
}

const SPEEDS = [700, 950, 1250, 1600];
const STATED = 1200;
const SPEED_PART_K = 13;
const LEVEL_SLOPE = 50;
const [MOUNT_SD, RUN_SD, LEVEL_SD] = [0.45, 0.15, 0.5];

/** ΔT over the room at a noise, less what all coolers have in common, such that those of one rise_k are alike there. */
const alike = (n: number) => Array.from({ length: n }, (_, i) => ({ name: `S${i + 1}`, rise_k: 40, level_db: 32 + i }));

export const SWEEP_CONDITIONS: SweepCondition[] = [
  {
    key: 'sweep_same',
    says: 'nothing differs at 32 dB, 3 coolers of unlike loudness × 4 mounts × 4 speeds',
    coolers: alike(3),
    mounts: 4,
    at_db: 32,
  },
  {
    key: 'sweep_apart',
    says: '3 coolers 0, 1.5 and 3 K apart at 32 dB, 4 mounts × 4 speeds',
    coolers: alike(3).map((c, i) => ({ ...c, rise_k: 40 + 1.5 * i })),
    mounts: 4,
    at_db: 32,
  },
];

/** Readings of a cooler: its curve is such that it has its rise at the noise asked about. */
function drawSweep(c: SweepCondition, cooler: SweepCondition['coolers'][number], random: Random): SweepPoint[] {
  const speedAt = STATED * 10 ** ((c.at_db - cooler.level_db) / LEVEL_SLOPE);
  const least = cooler.rise_k - SPEED_PART_K * (speedAt / STATED) ** -0.7;
  return Array.from({ length: c.mounts }, (_, m) => {
    const mounted = MOUNT_SD * random.normal();
    return SPEEDS.map((rpm) => ({
      ...{ mount: String(m + 1), rpm },
      rise: least + SPEED_PART_K * (rpm / STATED) ** -0.7 + mounted + RUN_SD * random.normal(),
      level: cooler.level_db + LEVEL_SLOPE * Math.log10(rpm / STATED) + LEVEL_SD * random.normal(),
    }));
  }).flat();
}

/** Simulates sweeps, reads each mount's value at the noise, and counts what each judge says. */
export function tallySweeps(c: SweepCondition, studies: number, seed: number): Record<Judge, Tally> {
  const random = seededRandom(seed);
  const truth = new Map(c.coolers.map((k) => [k.name, k.rise_k]));
  const tallies = Object.fromEntries(JUDGES.map((j) => [j, empty()])) as Record<Judge, Tally>;
  for (let i = 0; i < studies; i++) {
    const shared_errors: Record<string, SharedError> = {};
    const rows = c.coolers.flatMap((cooler) => {
      const sweep = fitSweep(cooler.name, drawSweep(c, cooler, random));
      const state = atLevel(sweep, c.at_db);
      if (!state) return [];
      shared_errors[cooler.name] = { se: state.shared_se, df: state.shared_df };
      return state.mounts.map((value, m) => ({ specimen: cooler.name, mount: sweep.mounts[m], value }));
    });
    if (new Set(rows.map((r) => r.specimen)).size < c.coolers.length) continue;
    const analysis = analyse(rows, { scatter: 'measured', chances: false, outlook: false, shared_errors, reference: c.coolers[0].name });
    for (const judge of JUDGES) count(tallies[judge], judged(analysis, judge, truth), 1);
  }
  return tallies;
}
