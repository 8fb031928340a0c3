import { seededRandom } from '#core/stats/random';
import { NORTH_BENCH, type SimulatedRig } from '#simulator/rigs';
import type { DemoRun } from './demoStudy';

/** Study 2 of the demo: four coolers over their fan speeds, and two towers each with two fans. */

/** What the paste between lid and base adds, K/W. */
const PASTE = 0.0585;
const FLOOR_DB = 24;
/** at which the figures of a cooler are stated */
const STATED_RPM = 1200;

/** Sink to air: what is left at endless air, what the stated speed adds, and the level there at 1 m. */
interface CoolerTruth {
  name: string;
  file: string;
  least: number;
  stated: number;
  exponent: number;
  level_db: number;
}

const COOLERS: CoolerTruth[] = [
  { name: 'Heron', file: 'heron', least: 0.05, stated: 0.092, exponent: 0.7, level_db: 33 },
  { name: 'Plover', file: 'plover', least: 0.062, stated: 0.098, exponent: 0.7, level_db: 34.5 },
  { name: 'Low Otter', file: 'low_otter', least: 0.08, stated: 0.12, exponent: 0.7, level_db: 31 },
  { name: 'Weir 240', file: 'weir', least: 0.03, stated: 0.095, exponent: 0.65, level_db: 38 },
];
const SPEEDS = [700, 950, 1250, 1600];
const MOUNTS = 3;

function rigAt({ least, stated, exponent }: CoolerTruth, rpm: number): SimulatedRig {
  const sink = least + stated * (rpm / STATED_RPM) ** -exponent;
  return { ...NORTH_BENCH, fan_rpm: rpm, ladder: NORTH_BENCH.ladder.map((n, i) => (i === 3 ? { ...n, resistance: sink } : n)) };
}

const levelAt = (c: CoolerTruth, rpm: number) => c.level_db + 50 * Math.log10(rpm / STATED_RPM);

/** A run short enough that a sweep fits into an evening, and long enough to be steady. */
const CYCLE = { idle_s: 120, load_s: 1150, cooldown_s: 60, period_s: 5, warm_start_k: 0 };

/**
 * Sweeps of the four coolers: every mount at four speeds, with a sound meter beside it.
 * @param start seconds since 1970 of the first run
 */
export function sweepRuns(start: number): DemoRun[] {
  const random = seededRandom(21);
  return COOLERS.flatMap((cooler, c) =>
    Array.from({ length: MOUNTS }, (_, m) => {
      const mounted = PASTE + (0.45 * random.normal()) / NORTH_BENCH.load_w;
      return SPEEDS.map((rpm, r): DemoRun => {
        const rig = rigAt(cooler, rpm);
        return {
          ...{ specimen: cooler.name, mount: m + 1, run: r + 1, file: `sweep_${cooler.file}_m${m + 1}_${rpm}.csv`, note: '' },
          start: start + m * 86_400 + c * 9000 + r * 2000,
          rig,
          simulated: {
            ...CYCLE,
            interface_k_per_w: mounted + (0.1 * random.normal()) / rig.load_w,
            ...{ room_c: 22.5 + 0.5 * random.normal(), room_drift_k_per_h: 0.1 * random.normal(), seed: 80_000 + 1000 * c + 10 * m + r },
            sound: { fan_db: levelAt(cooler, rpm) + 0.3 * random.normal(), floor_db: FLOOR_DB },
          },
        };
      });
    }).flat(),
  );
}

const FANS = [
  { name: 'Gale 120', adds: 0 },
  { name: 'Hush 120', adds: 0.006 },
];
const CROSSED_MOUNTS = 4;

/** Two towers, each with two fans at the stated speed: the heatsink makes more of a difference than the fan. */
export function crossedRuns(start: number): DemoRun[] {
  const random = seededRandom(22);
  return COOLERS.slice(0, 2).flatMap((cooler, c) =>
    FANS.flatMap((fan, f) =>
      Array.from({ length: CROSSED_MOUNTS }, (_, m): DemoRun => {
        const rig = rigAt({ ...cooler, least: cooler.least + fan.adds }, STATED_RPM);
        return {
          ...{
            specimen: `${cooler.name} with ${fan.name}`,
            mount: m + 1,
            run: 1,
            file: `crossed_${cooler.file}_${f}_m${m + 1}.csv`,
            note: '',
          },
          start: start + m * 86_400 + (2 * c + f) * 4500,
          rig,
          simulated: {
            ...CYCLE,
            interface_k_per_w: PASTE + (0.4 * random.normal()) / rig.load_w,
            ...{ room_c: 22.5 + 0.5 * random.normal(), room_drift_k_per_h: 0.1 * random.normal(), seed: 90_000 + 100 * (2 * c + f) + m },
          },
        };
      }),
    ),
  );
}
