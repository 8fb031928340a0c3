import { seededRandom } from '#core/stats/random';
import { atLevel, fitSweep, type Sweep, type SweepPoint } from '#core/thermal/coolers/sweep';

/** A cooler whose rise and sound over its fan speed are known. */
export interface PlantedCooler {
  name: string;
  a: number;
  at_1200: number;
  level_1200: number;
}
export const HERON: PlantedCooler = { name: 'Heron', a: 28, at_1200: 13, level_1200: 33 };
export const WEIR: PlantedCooler = { name: 'Weir 240', a: 26, at_1200: 13, level_1200: 38 };
/** Overtakes Heron near 33 dB, and plainly so. */
export const SLUICE: PlantedCooler = { name: 'Sluice', a: 19, at_1200: 20, level_1200: 36 };
export const SPEEDS = [700, 950, 1250, 1600];

export const riseOf = (c: PlantedCooler, rpm: number) => c.a + c.at_1200 * (rpm / 1200) ** -0.7;
export const levelOf = (c: PlantedCooler, rpm: number) => c.level_1200 + 50 * Math.log10(rpm / 1200);
export const speedAt = (c: PlantedCooler, level: number) => 1200 * 10 ** ((level - c.level_1200) / 50);

interface Scatter {
  mounts?: number;
  mount_sd?: number;
  run_sd?: number;
  level_sd?: number;
  /** of the meter, put up anew for each mount, dB */
  meter_sd?: number;
  seed?: number;
}

/** A sweep with as much scatter of mounts, readings, levels and meters as is given. */
export function sweep(
  c: PlantedCooler,
  { mounts = 3, mount_sd = 0, run_sd = 0, level_sd = 0, meter_sd = 0, seed = 1 }: Scatter = {},
): SweepPoint[] {
  const random = seededRandom(seed);
  return Array.from({ length: mounts }, (_, m) => {
    const mounted = mount_sd * random.normal();
    const meter = meter_sd === 0 ? 0 : meter_sd * random.normal();
    return SPEEDS.map((rpm) => ({
      mount: String(m + 1),
      rpm,
      rise: riseOf(c, rpm) + mounted + run_sd * random.normal(),
      level: levelOf(c, rpm) + meter + level_sd * random.normal(),
    }));
  }).flat();
}

/** The mounts of a swept cooler at a level, with what they share. */
export function valuesAt(s: Sweep, level: number) {
  const state = atLevel(s, level);
  return state && { values: state.mounts, shared: { se: state.shared_se, df: state.shared_df } };
}

/** Two heatsinks with two fans, so that what each accounts for at a level is known; null where one is not measured there. */
export function plantedCross(level: number, scatter: Required<Omit<Scatter, 'seed'>>, seed: number) {
  const heatsinks = { tall: 28, flat: 31 };
  const fans = { slow: 33, fast: 37 };
  const truth = { a: 0, b: 0, interaction: 0 };
  const cells = Object.entries(heatsinks).flatMap(([a, least], i) =>
    Object.entries(fans).map(([b, level_1200], j) => {
      const cooler: PlantedCooler = { name: `${a} ${b}`, a: least, at_1200: 13, level_1200 };
      const at = riseOf(cooler, speedAt(cooler, level));
      truth.a += ((i === 0 ? 1 : -1) * at) / 2;
      truth.b += ((j === 0 ? 1 : -1) * at) / 2;
      truth.interaction += (i === j ? 1 : -1) * at;
      return { a, b, at: valuesAt(fitSweep(cooler.name, sweep(cooler, { ...scatter, seed: 4 * seed + 2 * i + j })), level) };
    }),
  );
  const read = cells.flatMap(({ a, b, at }) => (at ? [{ a, b, ...at }] : []));
  return read.length < 4 ? null : { cells: read, truth };
}
