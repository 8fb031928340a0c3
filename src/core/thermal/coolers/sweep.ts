import { mean } from '#core/stats/moments';
import { fitLevel, type LevelFit, levelAt, logRpmError, rpmAtLevel, slopeRpmError } from '#core/thermal/noise/levelFit';
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
const BEYOND = 0.05;

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
  const read = [...new Set([...mounts, ...loud.map((p) => p.mount)])];
  const level = fitLevel(
    loud.map((p) => p.rpm),
    loud.map((p) => p.level as number),
    loud.map((p) => read.indexOf(p.mount)),
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
  if (loud.length === 0 && near > 0)
    return `All sound readings of ${name} lie within 3 dB of the floor: a quieter room or a nearer meter would tell them.`;
  if (!level)
    return `${name} has too few sound readings for a curve of its noise: three speeds are needed${near > 0 ? `, ${near} lie within 3 dB of the floor` : ''}.`;
  if (level.b <= 0) return `The noise of ${name} does not rise with its fan speed; look at the readings.`;
  return '';
}

/** A cooler at a fan speed, with each mount's value and the error that its mounts share. */
interface CoolerState {
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
const isInRange = ([low, high]: [number, number], rpm: number): boolean => rpm >= low * (1 - BEYOND) && rpm <= high * (1 + BEYOND);

/** The cooler at a fan speed; null beyond the measured range. */
export function atSpeed({ rise: fit, level }: Sweep, rpm: number): CoolerState | null {
  if (!fit || !isInRange(fit.rpm, rpm)) return null;
  const rise = riseAt(fit, rpm);
  return {
    ...{ rpm, rise },
    level: level ? levelAt(level, rpm) : null,
    mounts: fit.mounts.map((a) => rise + a - fit.a),
    shared_se: shapeError(fit, rpm),
    shared_df: Math.max(1, fit.df),
  };
}

/**
 * The cooler at a sound level: the speed from its noise curve, and the rise there. A mount whose meter read high by some dB was told a
 * speed too low, and so a rise too high: with every mount's own offset the scatter of the mounts holds the meter's as well.
 */
export function atLevel(sweep: Sweep, level: number): CoolerState | null {
  const { level: fit, rise } = sweep;
  if (!fit || fit.b <= 0 || !rise) return null;
  const rpm = rpmAtLevel(fit, level);
  if (!isInRange(fit.rpm, rpm)) return null;
  const state = atSpeed(sweep, rpm);
  if (!state) return null;
  // d ln rpm = ln 10 · d lg rpm
  const perLog = Math.LN10 * riseSlope(rise, rpm);
  const offsets = meterOffsets(sweep);
  const error = offsets ? slopeRpmError(fit, level) : logRpmError(fit, level);
  return {
    ...state,
    mounts: state.mounts.map((value, i) => (offsets ? value - (perLog * offsets[i]) / fit.b : value)),
    shared_se: Math.hypot(state.shared_se, perLog * error),
    shared_df: Math.max(1, Math.min(rise.df, offsets ? fit.df : levelDf(fit))),
  };
}

/** What the meter of each mount read more than the mean of them, dB; null where a mount was not read, or there is but one. */
function meterOffsets({ mounts, level }: Sweep): number[] | null {
  const own = mounts.map((_, i) => level?.own?.[i] ?? null);
  if (own.length < 2 || !own.every((v) => v !== null)) return null;
  const middle = mean(own);
  return own.map((v) => v - middle);
}

/** Degrees of freedom of a level line as a whole: of the mounts' offsets, where they have some. */
const levelDf = ({ own, df }: LevelFit): number => (own ? own.filter((v) => v !== null).length - 1 : df);

/** Speed and level that each mount of a cooler needs for a rise. */
interface NeededAir {
  rpm: number;
  level: number | null;
  /** level each mount needs, dB; null without a curve of the noise */
  mounts: (number | null)[];
  shared_se: number;
  shared_df: number;
}

/** The fan speed and noise a cooler needs to hold a rise; null where that lies beyond what was measured. */
export function atRise(sweep: Sweep, rise: number): NeededAir | null {
  const { rise: fit } = sweep;
  // a noise that does not rise with the speed tells no level
  const level = sweep.level && sweep.level.b > 0 ? sweep.level : null;
  if (!fit) return null;
  const rpm = rpmAtRise(fit, rise);
  if (rpm === null || !isInRange(fit.rpm, rpm)) return null;
  const each = fit.mounts.map((a) => rpmAtRise({ ...fit, a }, rise));
  const inLog = shapeError(fit, rpm) / Math.abs(riseSlope(fit, rpm));
  const offsets = meterOffsets(sweep);
  const own = level ? (offsets ? slopeRpmError : logRpmError)(level, levelAt(level, rpm)) * Math.abs(level.b) : 0;
  return {
    rpm,
    level: level ? levelAt(level, rpm) : null,
    mounts: each.map((r, i) => (level && r !== null && isInRange(fit.rpm, r) ? levelAt(level, r) + (offsets?.[i] ?? 0) : null)),
    shared_se: level ? Math.hypot((level.b * inLog) / Math.LN10, own) : inLog,
    shared_df: Math.max(1, level ? Math.min(fit.df, offsets ? level.df : levelDf(level)) : fit.df),
  };
}

/** Sound levels at which a cooler can be read, from its quietest to its loudest speed. */
export function levelRange({ rise, level }: Sweep): [number, number] | null {
  if (!rise || !level || level.b <= 0) return null;
  const low = Math.max(rise.rpm[0], level.rpm[0]) * (1 - BEYOND);
  const high = Math.min(rise.rpm[1], level.rpm[1]) * (1 + BEYOND);
  return low < high ? [levelAt(level, low), levelAt(level, high)] : null;
}
