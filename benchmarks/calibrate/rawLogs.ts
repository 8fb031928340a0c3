import { analyse } from '#core/compare/analyse';
import type { AnalysisRow } from '#core/compare/rows';
import type { AnalysisOptions } from '#core/compare/types';
import { reduceLogs } from '#core/signal/reduce/reduceLogs';
import { seededRandom } from '#core/stats/random';
import { NORTH_BENCH, type SimulatedRig, SOUTH_BENCH } from '#simulator/rigs';
import { type SimulatedRun, simulateRun } from '#simulator/simulateRun';
import { writeLog } from '#simulator/writeLog';
import { count, empty, JUDGES, type Judge, judged, type Tally } from './tally';

/**
 * A campaign from simulated logs: the rig is loaded, its readings are written as a log, the log is read and reduced as a person's would be.
 */
export interface RawCondition {
  key: string;
  says: string;
  /** resistances of the interfaces, K/W */
  interfaces: number[];
  /** scatter between mounts of each, K at the rig's load */
  mount_sd_k: number[];
  mounts: number;
  runs: number;
  /** rigs the mounts alternate between; each bench day shifts the air by some */
  rigs: SimulatedRig[];
  /** share of mounts that are tilted by so much K, of runs that start warm, and of runs in a drifting room */
  mishaps?: { tilted: number; tilted_k: number; warm: number; drifting: number };
  options?: Partial<AnalysisOptions>;
}

const PASTE = 0.0585;
/** K/W of one kelvin at the load of the rig */
const KELVIN = 1 / NORTH_BENCH.load_w;
const plain = { mounts: 3, runs: 2, rigs: [NORTH_BENCH] };

export const RAW_CONDITIONS: RawCondition[] = [
  {
    key: 'raw_same',
    says: 'nothing differs, 3 specimens × 3 mounts × 2 runs',
    interfaces: [PASTE, PASTE, PASTE],
    mount_sd_k: [0.5, 0.5, 0.5],
    ...plain,
  },
  {
    key: 'raw_apart',
    says: 'specimens 0, 1.5 and 3 K apart',
    interfaces: [0, 1.5, 3].map((k) => PASTE + k * KELVIN),
    mount_sd_k: [0.5, 0.5, 0.5],
    ...plain,
  },
  {
    key: 'raw_mishaps',
    says: 'nothing differs but a fourth that throttles; tilted mounts, warm starts and a drifting room among the runs',
    interfaces: [PASTE, PASTE, PASTE, 0.34],
    mount_sd_k: [0.5, 0.5, 0.5, 0.5],
    ...plain,
    mounts: 4,
    mishaps: { tilted: 0.04, tilted_k: 3, warm: 0.1, drifting: 0.1 },
  },
  {
    key: 'raw_rigs',
    says: 'nothing differs, two rigs 0.8 K apart, every specimen on both, blocked by rig',
    interfaces: [PASTE, PASTE, PASTE],
    mount_sd_k: [0.5, 0.5, 0.5],
    mounts: 4,
    runs: 2,
    rigs: [NORTH_BENCH, SOUTH_BENCH],
    options: { block: 'rig' },
  },
];

/** Sends whole campaigns through logs, reduction and verdicts, and counts what each judge says. */
export function tallyRaw(c: RawCondition, campaigns: number, seed: number): Record<Judge, Tally> {
  const tallies = Object.fromEntries(JUDGES.map((j) => [j, empty()])) as Record<Judge, Tally>;
  const truth = new Map(c.interfaces.map((r, i) => [`S${i + 1}`, r * NORTH_BENCH.load_w]));
  for (let i = 0; i < campaigns; i++) {
    const analysis = analyse(campaign(c, seed + i), { scatter: 'measured', ...c.options, chances: false, outlook: false, reference: 'S1' });
    const known = new Map([...truth].filter(([name]) => analysis.specimens.some((s) => s.specimen === name)));
    for (const judge of JUDGES) count(tallies[judge], judged(analysis, judge, known), 1);
  }
  return tallies;
}

/** The runs of one campaign as they come out of their logs. */
function campaign(c: RawCondition, seed: number): AnalysisRow[] {
  const random = seededRandom(seed);
  const rows: AnalysisRow[] = [];
  c.interfaces.forEach((r, s) => {
    for (let m = 1; m <= c.mounts; m++) {
      const rig = c.rigs[m % c.rigs.length];
      const tilted = c.mishaps && random.uniform() < c.mishaps.tilted ? c.mishaps.tilted_k : 0;
      const mounted = r + KELVIN * (c.mount_sd_k[s] * random.normal() + tilted);
      for (let run = 1; run <= c.runs; run++) {
        rows.push({
          specimen: `S${s + 1}`,
          mount: String(m),
          run: String(run),
          rig: rig === NORTH_BENCH ? 'North' : 'South',
          ...reduced(c, rig, mounted, random),
        });
      }
    }
  });
  return rows;
}

function reduced(
  c: RawCondition,
  rig: SimulatedRig,
  mounted: number,
  random: ReturnType<typeof seededRandom>,
): Pick<AnalysisRow, 'value' | 'valid' | 'censored'> {
  const warm = c.mishaps && random.uniform() < c.mishaps.warm;
  const drifting = c.mishaps && random.uniform() < c.mishaps.drifting;
  const run: SimulatedRun = {
    interface_k_per_w: Math.max(0.001, mounted + 0.12 * KELVIN * random.normal()),
    ...{ idle_s: warm ? 90 : 180, load_s: 1100, cooldown_s: 60, period_s: 4 },
    room_c: 22 + 0.8 * random.normal(),
    room_drift_k_per_h: (drifting ? 2 : 0.15) * random.normal(),
    warm_start_k: warm ? 8 : 0,
    seed: Math.floor(4e9 * random.uniform()),
  };
  const bytes = new TextEncoder().encode(writeLog(simulateRun(rig, run), 1_780_300_800));
  const { reduction } = reduceLogs([{ name: 'run.csv', bytes }], {}, { limit_c: rig.limit_c });
  return { value: reduction.rise_k ?? Number.NaN, valid: reduction.valid && reduction.rise_k !== null, censored: reduction.censored };
}
