import Delaunator from 'delaunator';
import { leastSquares } from '#core/stats/leastSquares';
import { mean, sumOfSquares } from '#core/stats/moments';

/** A height read at a point of a face; several readings at one point are repeats. */
export interface HeightReading {
  x_mm: number;
  y_mm: number;
  height_um: number;
}

/** A point with its mean height and its distance from the plane that fits all points best. */
interface HeightPoint extends HeightReading {
  readings: number;
  deviation_um: number;
}

export interface Flatness {
  points: HeightPoint[];
  /** slope of the plane taken out, µm per mm */
  tilt: { x: number; y: number };
  peak_to_valley_um: number;
  rms_um: number;
  /** middle against rim, µm: above 0 the face stands higher in the middle; null without a point in the middle half */
  bow_um: number | null;
  /** one diagonal against the other, µm: the coefficient of xy times half the length and half the width; null where points cannot tell */
  twist_um: number | null;
  /** standard deviation of repeats at one point; null without repeats */
  repeat_sd_um: number | null;
  /** mean gap over the area under a flat plate that rests on the highest point of the plane-free face, µm */
  mean_gap_um: number;
}

/**
 * How flat a face is: repeats are averaged, the best plane is taken out, and what is left is described. Source of peak-to-valley from the
 * least-squares plane: ISO 12781-1 (LSPL).
 * @returns null where fewer than four points, or points that are nearly on one line, tell nothing beyond a plane
 */
export function flatness(readings: HeightReading[]): Flatness | null {
  const groups = grouped(readings);
  if (groups.length < 4) return null;
  const cx = mean(groups.map((g) => g.x_mm));
  const cy = mean(groups.map((g) => g.y_mm));
  const x = Float64Array.from(groups, (g) => g.x_mm - cx);
  const y = Float64Array.from(groups, (g) => g.y_mm - cy);
  if (isNarrow(x, y)) return null;
  const ones = new Float64Array(groups.length).fill(1);
  const heights = Float64Array.from(groups, (g) => g.height_um);
  const plane = leastSquares([ones, x, y], heights);
  if (!plane) return null;
  const [level, sx, sy] = plane.coefficients;
  const points = groups.map((g, i) => ({ ...g, deviation_um: heights[i] - level - sx * x[i] - sy * y[i] }));
  const deviations = points.map((p) => p.deviation_um);
  const highest = Math.max(...deviations);
  const halfL = (Math.max(...x) - Math.min(...x)) / 2;
  const halfW = (Math.max(...y) - Math.min(...y)) / 2;
  // how far out a point lies, 0 in the middle and 1 at the rim
  const out = points.map((_, i) => Math.max(halfL > 0 ? Math.abs(x[i]) / halfL : 0, halfW > 0 ? Math.abs(y[i]) / halfW : 0));
  const inner = deviations.filter((_, i) => out[i] <= 0.5);
  const rim = deviations.filter((_, i) => out[i] > 0.75);
  const saddle = leastSquares([ones, x, y, Float64Array.from(x, (v, i) => v * y[i])], heights);
  const repeats = groups.filter((g) => g.readings > 1);
  const freedom = repeats.reduce((sum, g) => sum + g.readings - 1, 0);
  return {
    points,
    tilt: { x: sx, y: sy },
    peak_to_valley_um: highest - Math.min(...deviations),
    rms_um: Math.sqrt(deviations.reduce((sum, d) => sum + d * d, 0) / deviations.length),
    bow_um: inner.length > 0 && rim.length > 0 ? mean(inner) - mean(rim) : null,
    twist_um: saddle && groups.length > 4 ? saddle.coefficients[3] * halfL * halfW : groups.length === 4 ? cornerTwist(points) : null,
    repeat_sd_um: freedom > 0 ? Math.sqrt(repeats.reduce((sum, g) => sum + g.squares, 0) / freedom) : null,
    mean_gap_um: meanOverArea(
      x,
      y,
      deviations.map((d) => highest - d),
    ),
  };
}

/** Least second extent of the points as a share of the first: below it a reading's error tilts the plane at will. */
const NARROW = 0.05;

/** Whether the points lie nearly on one line, by the standard deviations along their principal axes; both coordinates about their means. */
function isNarrow(x: Float64Array, y: Float64Array): boolean {
  const dot = (a: Float64Array, b: Float64Array) => a.reduce((sum, v, i) => sum + v * b[i], 0);
  const [xx, yy, xy] = [dot(x, x), dot(y, y), dot(x, y)];
  const middle = (xx + yy) / 2;
  const apart = Math.hypot((xx - yy) / 2, xy);
  return !(Math.sqrt(Math.max(0, middle - apart)) >= NARROW * Math.sqrt(middle + apart));
}

/**
 * Mean of a height over the area that the points span, straight between them: each triangle counts by its area, however the points are
 * spaced.
 */
function meanOverArea(x: Float64Array, y: Float64Array, heights: number[]): number {
  const { triangles } = Delaunator.from(Array.from(x, (v, i): [number, number] => [v, y[i]]));
  let volume = 0;
  let area = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
    const twice = Math.abs((x[b] - x[a]) * (y[c] - y[a]) - (x[c] - x[a]) * (y[b] - y[a]));
    area += twice;
    volume += (twice * (heights[a] + heights[b] + heights[c])) / 3;
  }
  return volume / area;
}

/** Four corners leave one degree of freedom beyond the plane: all of it is twist. */
function cornerTwist(points: { x_mm: number; y_mm: number; deviation_um: number }[]): number {
  const cx = mean(points.map((p) => p.x_mm));
  const cy = mean(points.map((p) => p.y_mm));
  return mean(points.map((p) => p.deviation_um * Math.sign((p.x_mm - cx) * (p.y_mm - cy))));
}

function grouped(readings: HeightReading[]) {
  const groups = new Map<string, HeightReading[]>();
  for (const r of readings) groups.set(`${r.x_mm} ${r.y_mm}`, [...(groups.get(`${r.x_mm} ${r.y_mm}`) ?? []), r]);
  return [...groups.values()].map((list) => {
    const values = list.map((r) => r.height_um);
    return { x_mm: list[0].x_mm, y_mm: list[0].y_mm, height_um: mean(values), readings: list.length, squares: sumOfSquares(values) };
  });
}

/**
 * Readings that lie far from what their neighbours say: more than 8 times the median distance of all points from the mean of their four
 * nearest, and more than 20 µm. A slip of the micrometer, or a wrong digit.
 */
export function oddHeights(readings: HeightReading[]): HeightReading[] {
  if (readings.length < 6) return [];
  const distances = readings.map((r) => {
    const near = readings
      .filter((o) => o !== r)
      .map((o) => ({ o, d: Math.hypot(o.x_mm - r.x_mm, o.y_mm - r.y_mm) }))
      .sort((a, b) => a.d - b.d)
      .slice(0, 4)
      .map((n) => n.o.height_um)
      .sort((a, b) => a - b);
    // the median of the neighbours, so that one bad point does not accuse those around it
    return Math.abs(r.height_um - (near[1] + near[2]) / 2);
  });
  const sorted = [...distances].sort((a, b) => a - b);
  const typical = sorted[Math.floor(sorted.length / 2)];
  return readings.filter((_, i) => distances[i] > 20 && distances[i] > 8 * typical);
}

interface Removed {
  points: { x_mm: number; y_mm: number; removed_um: number; share: number | null }[];
  mean_um: number;
  least_um: number;
  most_um: number;
}

/**
 * What lapping took off at each point that was measured before and after, both over the same datum.
 * @param thickness_um of the whole part before, for the share; null where it is not known
 * @returns null where no point was measured both times
 */
export function removedBetween(before: HeightReading[], after: HeightReading[], thickness_um: number | null): Removed | null {
  const later = new Map(grouped(after).map((g) => [`${g.x_mm} ${g.y_mm}`, g.height_um]));
  const points = grouped(before).flatMap((g) => {
    const now = later.get(`${g.x_mm} ${g.y_mm}`);
    if (now === undefined) return [];
    const removed = g.height_um - now;
    return [{ x_mm: g.x_mm, y_mm: g.y_mm, removed_um: removed, share: thickness_um === null ? null : removed / thickness_um }];
  });
  if (points.length === 0) return null;
  const values = points.map((p) => p.removed_um);
  return { points, mean_um: mean(values), least_um: Math.min(...values), most_um: Math.max(...values) };
}

/**
 * What an uneven face costs at best: the mean gap as a film of the material, K/W.
 * @param gap_um mean gap
 * @param k conductivity, W/(m·K)
 */
export const gapResistance = (gap_um: number, k: number, area_mm2: number): number => (1e-6 * gap_um) / (k * 1e-6 * area_mm2);
