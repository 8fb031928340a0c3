import { fitLevel, type LevelFit, levelAt, logRpmError, rpmAtLevel } from '../noise/levelFit';
import { type CoolerFit, fitCooler, riseAt, riseSlope, rpmAtRise, shapeError } from './coolerFit';

/** One steady reading of a sweep. */
export interface SweepPoint {
  mount: string;
  rpm: number;
  /** K over the room, or K/W; null where the run has no valid value */
  rise: number | null;
  /** dB, the room taken out; null where it was not read */
  level: number | null;
  /** is the level an upper bound, too near the floor to tell? */
  level_at_most?: boolean;
}

/** A cooler over its fan speeds, with what could be fitted. */
export interface Sweep {
  specimen: string;
  points: SweepPoint[];
  mounts: string[];
  rise: CoolerFit | null;
  level: LevelFit | null;
  /** what is missing for a curve, as a sentence; empty where nothing is */
  missing: string;
}

/** How far beyond the measured speeds a curve is read. */
export const BEYOND = 0.05;

/** Fits both curves of a cooler. Levels too near the floor bound nothing and are left out of the fit. */
export function fitSweep(specimen: string, points: SweepPoint[]): Sweep {
  const warm = points.filter((p) => p.rise !== null);
  const mounts = [...new Set(warm.map((p) => p.mount))];
  const loud = points.filter((p) => p.level !== null && !p.level_at_most);
  const rise = fitCooler(
    warm.map((p) => p.rpm),
    warm.map((p) => p.rise as number),
    warm.map((p) => mounts.indexOf(p.mount)),
  );
  const level = fitLevel(
    loud.map((p) => p.rpm),
    loud.map((p) => p.level as number),
  );
  return { specimen, points, mounts, rise, level, missing: missingOf(specimen, points, { warm, loud, rise, level }) };
}

function missingOf(
  name: string,
  points: SweepPoint[],
  { warm, loud, rise, level }: { warm: SweepPoint[]; loud: SweepPoint[]; rise: CoolerFit | null; level: LevelFit | null },
): string {
  const speeds = new Set(warm.map((p) => p.rpm)).size;
  if (warm.length === 0) return `${name} has no valid run with a fan speed yet.`;
  if (speeds < 3) return `${name} was run at ${speeds === 1 ? 'one fan speed' : 'two fan speeds'} only; a curve takes three, better five.`;
  if (!rise) return `The rise of ${name} does not fall with its fan speed as a cooler’s does, so no curve is drawn through it.`;
  const near = points.filter((p) => p.level_at_most).length;
  if (loud.length === 0 && near > 0) return `All sound readings of ${name} lie within 3 dB of the floor: a quieter room or a nearer meter would tell them.`;
  if (!level)
    return `${name} has too few sound readings for a curve of its noise: three speeds are needed${near > 0 ? `, ${near} lie within 3 dB of the floor` : ''}.`;
  if (level.b <= 0) return `The noise of ${name} does not rise with its fan speed; look at the readings.`;
  return '';
}

/** A cooler at a fan speed, with each mount's value and the error that its mounts share. */
export interface CoolerState {
  rpm: number;
  rise: number;
  /** dB; null without a curve of the noise */
  level: number | null;
  /** value of each mount, in the order of the sweep's mounts */
  mounts: number[];
  /** standard error that all mounts share: of the curve's shape, and of the speed where that comes from a level */
  shared_se: number;
  shared_df: number;
}

/** May a curve be read at a speed? Not by over 5 % beyond what was measured. */
export function isInRange([low, high]: [number, number], rpm: number): boolean {
  return rpm >= low * (1 - BEYOND) && rpm <= high * (1 + BEYOND);
}

/** The cooler at a fan speed; null beyond the measured range. */
export function atSpeed(sweep: Sweep, rpm: number, levelError = 0): CoolerState | null {
  const { rise: fit, level } = sweep;
  if (!fit || !isInRange(fit.rpm, rpm)) return null;
  const rise = riseAt(fit, rpm);
  const ofSpeed = riseSlope(fit, rpm) * levelError;
  return {
    ...{ rpm, rise },
    level: level ? levelAt(level, rpm) : null,
    mounts: fit.mounts.map((a) => rise + a - fit.a),
    shared_se: Math.hypot(shapeError(fit, rpm), ofSpeed),
    shared_df: Math.max(1, levelError > 0 && level ? Math.min(fit.df, level.df) : fit.df),
  };
}

/** The cooler at a sound level: the speed from its noise curve, and the rise there. */
export function atLevel(sweep: Sweep, level: number): CoolerState | null {
  const { level: fit } = sweep;
  if (!fit || fit.b <= 0) return null;
  const rpm = rpmAtLevel(fit, level);
  if (!isInRange(fit.rpm, rpm)) return null;
  // d ln rpm = ln 10 · d lg rpm
  return atSpeed(sweep, rpm, Math.LN10 * logRpmError(fit, level));
}

/** Speed and level that each mount of a cooler needs for a rise. */
export interface NeededAir {
  rpm: number;
  level: number | null;
  /** level each mount needs, dB; null without a curve of the noise */
  mounts: (number | null)[];
  shared_se: number;
  shared_df: number;
}

/** The fan speed and noise a cooler needs to hold a rise; null where that lies beyond what was measured. */
export function atRise(sweep: Sweep, rise: number): NeededAir | null {
  const { rise: fit, level } = sweep;
  if (!fit) return null;
  const rpm = rpmAtRise(fit, rise);
  if (rpm === null || !isInRange(fit.rpm, rpm)) return null;
  const each = fit.mounts.map((a) => rpmAtRise({ ...fit, a }, rise));
  const inLog = shapeError(fit, rpm) / Math.abs(riseSlope(fit, rpm));
  const own = level ? logRpmErrorAt(level, rpm) : 0;
  return {
    rpm,
    level: level ? levelAt(level, rpm) : null,
    mounts: each.map((r) => (level && r !== null && isInRange(fit.rpm, r) ? levelAt(level, r) : null)),
    shared_se: level ? Math.hypot((level.b * inLog) / Math.LN10, own) : inLog,
    shared_df: Math.max(1, level ? Math.min(fit.df, level.df) : fit.df),
  };
}

/** Standard error of the level curve at a speed, dB. */
function logRpmErrorAt(fit: LevelFit, rpm: number): number {
  return logRpmError(fit, levelAt(fit, rpm)) * Math.abs(fit.b);
}

/** Sound levels at which a cooler can be read, from its quietest to its loudest speed. */
export function levelRange({ rise, level }: Sweep): [number, number] | null {
  if (!rise || !level || level.b <= 0) return null;
  const low = Math.max(rise.rpm[0], level.rpm[0]) * (1 - BEYOND);
  const high = Math.min(rise.rpm[1], level.rpm[1]) * (1 + BEYOND);
  return low < high ? [levelAt(level, low), levelAt(level, high)] : null;
}

/** Where the curves of two coolers cross. */
export interface Crossing {
  level: number;
  /** standard error of that level, from both curves and the scatter of the mounts; null where a cooler has one mount */
  se: number | null;
  /** the cooler that is better below */
  quieter: string;
  louder: string;
  /** levels both were measured at */
  shared: [number, number];
}

const SCAN = 200;

/** Levels at which one cooler overtakes another within what both were measured at. */
export function crossings(a: Sweep, b: Sweep): Crossing[] {
  const [p, q] = [levelRange(a), levelRange(b)];
  if (!p || !q) return [];
  const [low, high] = [Math.max(p[0], q[0]), Math.min(p[1], q[1])];
  if (!(low < high)) return [];
  const difference = (level: number) => curveAt(a, level) - curveAt(b, level);
  const at = (i: number) => low + ((high - low) * (i + 0.5)) / (SCAN + 1);
  const found: Crossing[] = [];
  for (let i = 0; i < SCAN; i++) {
    const [d1, d2] = [difference(at(i)), difference(at(i + 1))];
    if (!(d1 * d2 < 0)) continue;
    let [x, y] = [at(i), at(i + 1)];
    for (let k = 0; k < 50; k++) {
      const middle = (x + y) / 2;
      if (difference(middle) * d1 > 0) x = middle;
      else y = middle;
    }
    const level = (x + y) / 2;
    const slope = (d2 - d1) / (at(i + 1) - at(i));
    found.push({
      level,
      se: crossingError(a, b, level, slope),
      quieter: d1 < 0 ? a.specimen : b.specimen,
      louder: d1 < 0 ? b.specimen : a.specimen,
      shared: [low, high],
    });
  }
  return found;
}

/** Rise of a cooler's curve at a level, its errors left aside. */
function curveAt({ rise, level: fit }: Sweep, level: number): number {
  return rise && fit ? riseAt(rise, rpmAtLevel(fit, level)) : Number.NaN;
}

function crossingError(a: Sweep, b: Sweep, level: number, slope: number): number | null {
  const variances = [a, b].map((s) => {
    const state = atLevel(s, level);
    const n = s.mounts.length;
    if (!state || n < 2) return null;
    const ss = state.mounts.reduce((sum, m) => sum + (m - state.rise) ** 2, 0);
    return ss / (n - 1) / n + state.shared_se ** 2;
  });
  return variances.some((v) => v === null) ? null : Math.sqrt((variances[0] as number) + (variances[1] as number)) / Math.abs(slope);
}
