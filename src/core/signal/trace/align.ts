import { type Log, LogError, type Role } from '#core/signal/logs/types';
import { mean } from '#core/stats/moments';
import { runningMedian } from '#core/stats/quantiles';
import { interpolate, meanOfSeries } from './series';

const GRID_S = 1;
const SMOOTH_S = 5;
/** Points a file has at most on the grid on which all lags are tried, and on the finer one around the best. */
const MOST_POINTS = 4000;
const MOST_FINE_POINTS = 1_000_000;
const LEAST_CORRELATION = 0.4;

interface Alignment {
  offset_s: number;
  /** height of the correlation's peak, null where absolute times or a given offset decided */
  correlation: number | null;
}

/**
 * Seconds to add to a file's own times (from its first sample) to be on the first file's clock. A given offset comes first, then absolute
 * times of both files, then the lag at which the changes of load and temperature in both files agree best.
 * @throws LogError where the file cannot be placed
 */
export function alignLog(first: Log, other: Log, given?: number): Alignment {
  if (given !== undefined) return { offset_s: given, correlation: null };
  const a = first.time.start_epoch_s;
  const b = other.time.start_epoch_s;
  if (a !== null && b !== null) {
    if (first.time.zoned !== other.time.zoned) {
      throw new LogError(
        other.file,
        `its times ${other.time.zoned ? 'carry' : 'lack'} a time zone and those of ${first.file} do not match that; give the seconds to add to its times.`,
        {},
        'clock_offset',
      );
    }
    return { offset_s: b - a, correlation: null };
  }
  return byCorrelation(first, other);
}

function byCorrelation(first: Log, other: Log): Alignment {
  const longest = Math.max(first.t[first.t.length - 1], other.t[other.t.length - 1]);
  // long files are first matched on a coarser grid, so that the time this takes is bounded
  const coarse = Math.max(GRID_S, longest / MOST_POINTS);
  const a = changes(first, coarse);
  const b = changes(other, coarse);
  if (!a || !b) {
    const missing = a ? other : first;
    throw new LogError(
      missing.file,
      `nothing in it follows the load, so its clock cannot be matched; give the seconds to add to its times.`,
      {},
      'clock_offset',
    );
  }
  let found = bestLag(a, b, -b.length + 1, a.length - 1);
  let grid = coarse;
  if (coarse > GRID_S && longest / GRID_S <= MOST_FINE_POINTS) {
    grid = GRID_S;
    const about = Math.round((found.lag * coarse) / grid);
    const reach = Math.ceil((2 * coarse) / grid);
    found = bestLag(changes(first, grid) as Float64Array, changes(other, grid) as Float64Array, about - reach, about + reach);
  }
  if (!(found.correlation >= LEAST_CORRELATION)) {
    throw new LogError(
      other.file,
      `its clock cannot be matched with ${first.file}: the best agreement of load and temperature is ${found.correlation.toFixed(2)}; give the seconds to add to its times.`,
      {},
      'clock_offset',
    );
  }
  return { offset_s: found.lag * grid, correlation: found.correlation };
}

/** Lag in grid steps at which two series agree best, to a fraction of a step by the parabola through the peak. */
function bestLag(a: Float64Array, b: Float64Array, from: number, to: number): { lag: number; correlation: number } {
  const score = (k: number) => {
    let sum = 0;
    for (let i = Math.max(0, k); i < Math.min(a.length, b.length + k); i++) sum += a[i] * b[i - k];
    return sum;
  };
  let best = Number.NEGATIVE_INFINITY;
  let lag = 0;
  for (let k = from; k <= to; k++) {
    const sum = score(k);
    if (sum > best) {
      best = sum;
      lag = k;
    }
  }
  const left = score(lag - 1);
  const right = score(lag + 1);
  const curve = left - 2 * best + right;
  const shift = curve < 0 ? (0.5 * (left - right)) / curve : 0;
  return { lag: lag + shift, correlation: best / Math.sqrt(energy(a) * energy(b)) };
}

/** What of a log follows the load: power, clock or load where logged, else the mean of its sensors; null where nothing does. */
export function followsLoad(log: Log): { name: string; role: Role; values: Float64Array } | null {
  const drive = (['power', 'clock', 'load'] as const).map((role) => log.columns.find((c) => c.role === role)).find((c) => c !== undefined);
  if (drive) return { name: drive.name, role: drive.role, values: drive.values };
  const sensors = log.columns.filter((c) => c.role === 'sensor');
  return sensors.length === 0
    ? null
    : {
        name: sensors.length === 1 ? sensors[0].name : 'Mean of the sensors',
        role: 'sensor',
        values: meanOfSeries(sensors.map((s) => s.values)),
      };
}

/** Rate of change of what follows the load, on an even grid, about zero. */
function changes(log: Log, step: number): Float64Array | null {
  const follows = followsLoad(log);
  if (!follows) return null;
  const grid = Float64Array.from({ length: Math.floor(log.t[log.t.length - 1] / step) + 1 }, (_, i) => i * step);
  const level = runningMedian(interpolate(log.t, follows.values, grid, Number.POSITIVE_INFINITY), 2);
  const h = Math.max(1, Math.round(SMOOTH_S / step));
  const rate = level.map((_, i) => (level[Math.min(level.length - 1, i + h)] - level[Math.max(0, i - h)]) / (2 * h * step));
  const centre = mean(rate);
  return rate.map((v) => (Number.isNaN(v) ? 0 : v - centre));
}

const energy = (values: Float64Array): number => values.reduce((sum, v) => sum + v * v, 0);
