import { mean, sumOfSquares } from '#core/stats/moments';

/** of lg(rpm), squared: less is one speed */
const LEAST_SPREAD = 1e-9;

/** Sound level against fan speed: L = a + b·lg(rpm), over mounts each of which may have an offset of its own. */
export interface LevelFit {
  a: number;
  b: number;
  se_a: number;
  se_b: number;
  /** covariance of a and b */
  cov_ab: number;
  residual_sd: number;
  /** of the residuals about the mounts' own lines */
  df: number;
  /** measured speeds */
  rpm: [number, number];
  /** a of each mount, in their order, null where it was not read; null where mounts cannot be told from one line */
  own: (number | null)[] | null;
  /** lg(rpm) at which the slope's error leaves the level alone */
  centre: number;
}

/**
 * Fits the level of one fan on one cooler over its speed. The meter that was put up anew for each mount gives each an offset of its own:
 * lines with one slope, whose mean takes every mount alike (what REML gives where all are read at as many speeds), and whose error is the
 * scatter of the offsets with one degree of freedom less than there are mounts.
 * @param rpm speeds, above 0
 * @param level dB, the room taken out
 * @param mount index of each reading's mount, from 0; one mount where absent
 * @returns null for fewer than three readings, or at one speed only
 */
export function fitLevel(rpm: number[], level: number[], mount: number[] = rpm.map(() => 0)): LevelFit | null {
  const n = rpm.length;
  if (n < 3) return null;
  const x = rpm.map(Math.log10);
  const read = [...new Set(mount)];
  const own = read.length > 1 ? fitOwn(x, level, mount, read) : null;
  const groups = own ? read : [0];
  const fit =
    own ??
    fitOwn(
      x,
      level,
      rpm.map(() => 0),
      groups,
    );
  if (!fit) return null;
  const { b, offsets, centres, rss, df, sxx } = fit;
  const variance = rss / df;
  const centre = mean(centres);
  const a = mean(offsets);
  // of the level at the centre: by the scatter of the offsets, and never less than by the readings alone
  const spread = groups.length > 1 ? sumOfSquares(offsets) / (groups.length - 1) / groups.length : 0;
  const ofLevel = Math.max(spread, variance / n);
  const se_b = Math.sqrt(variance / sxx);
  return {
    ...{ a, b, df, se_b, centre },
    ...{ se_a: Math.sqrt(ofLevel + (centre * se_b) ** 2), cov_ab: -centre * se_b ** 2 },
    residual_sd: Math.sqrt(variance),
    rpm: [Math.min(...rpm), Math.max(...rpm)],
    own: own ? Array.from({ length: Math.max(...mount) + 1 }, (_, g) => (read.includes(g) ? offsets[read.indexOf(g)] : null)) : null,
  };
}

/** Lines with one slope and an offset for each mount; null where the speeds within mounts tell no slope, or leave no degree of freedom. */
function fitOwn(x: number[], level: number[], mount: number[], groups: number[]) {
  const parts = groups.map((g) => {
    const at = mount.flatMap((m, i) => (m === g ? [i] : []));
    return { at, x: mean(at.map((i) => x[i])), y: mean(at.map((i) => level[i])) };
  });
  const df = x.length - groups.length - 1;
  const over = (f: (i: number, p: (typeof parts)[number]) => number) =>
    parts.reduce((sum, p) => sum + p.at.reduce((s, i) => s + f(i, p), 0), 0);
  const sxx = over((i, p) => (x[i] - p.x) ** 2);
  if (df < 1 || sxx < LEAST_SPREAD) return null;
  const b = over((i, p) => (x[i] - p.x) * (level[i] - p.y)) / sxx;
  const rss = over((i, p) => (level[i] - p.y - b * (x[i] - p.x)) ** 2);
  return { b, rss, df, sxx, centres: parts.map((p) => p.x), offsets: parts.map((p) => p.y - b * p.x) };
}

/** Level at a speed, dB. */
export const levelAt = ({ a, b }: Pick<LevelFit, 'a' | 'b'>, rpm: number): number => a + b * Math.log10(rpm);

/** Speed with a level, by inverting the fit. */
export const rpmAtLevel = ({ a, b }: Pick<LevelFit, 'a' | 'b'>, level: number): number => 10 ** ((level - a) / b);

/** Standard error of lg(rpm) at a level that all mounts share: of the slope, away from the speeds that were read. */
export const slopeRpmError = ({ a, b, se_b, centre }: LevelFit, level: number): number =>
  (Math.abs((level - a) / b - centre) * se_b) / Math.abs(b);

/** Standard error of lg(rpm) at a level: the curve's own, the level being given. */
export function logRpmError(fit: LevelFit, level: number): number {
  const at = (level - fit.a) / fit.b;
  const variance = fit.se_a ** 2 + at * at * fit.se_b ** 2 + 2 * at * fit.cov_ab;
  return Math.sqrt(Math.max(0, variance)) / Math.abs(fit.b);
}
