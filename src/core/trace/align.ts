import { type Log, LogError } from '../logs/types';
import { mean } from '../stats/moments';
import { runningMedian } from '../stats/quantiles';
import { interpolate, meanOfSeries } from './series';

const GRID_S = 1;
const SMOOTH_S = 5;

export interface Alignment {
  offset_s: number;
  /** height of the correlation's peak, null where absolute times or a given offset decided */
  correlation: number | null;
}

/**
 * Seconds to add to a file's own times (from its first sample) to be on the first file's clock.
 * A given offset comes first, then absolute times of both files, then the lag at which the changes of load and
 * temperature in both files agree best.
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
  const a = changes(first);
  const b = changes(other);
  if (!a || !b) {
    const missing = a ? other : first;
    throw new LogError(
      missing.file,
      `nothing in it follows the load, so its clock cannot be matched; give the seconds to add to its times.`,
      {},
      'clock_offset',
    );
  }
  let best = Number.NEGATIVE_INFINITY;
  let lag = 0;
  const scores = new Map<number, number>();
  for (let k = -b.length + 1; k < a.length; k++) {
    let sum = 0;
    for (let i = Math.max(0, k); i < Math.min(a.length, b.length + k); i++) sum += a[i] * b[i - k];
    scores.set(k, sum);
    if (sum > best) {
      best = sum;
      lag = k;
    }
  }
  const correlation = best / Math.sqrt(energy(a) * energy(b));
  if (correlation < 0.4) {
    throw new LogError(
      other.file,
      `its clock cannot be matched with ${first.file}: the best agreement of load and temperature is ${correlation.toFixed(2)}; give the seconds to add to its times.`,
      {},
      'clock_offset',
    );
  }
  const left = scores.get(lag - 1) ?? best;
  const right = scores.get(lag + 1) ?? best;
  const curve = left - 2 * best + right;
  const shift = curve < 0 ? (0.5 * (left - right)) / curve : 0;
  return { offset_s: (lag + shift) * GRID_S, correlation };
}

/** Rate of change of what follows the load (power, clock, load, else temperature) on an even grid, about zero. */
function changes(log: Log): Float64Array | null {
  const drive = ['power', 'clock', 'load'].map((role) => log.columns.find((c) => c.role === role)).find((c) => c !== undefined);
  const sensors = log.columns.filter((c) => c.role === 'sensor');
  if (!drive && sensors.length === 0) return null;
  const grid = Float64Array.from({ length: Math.floor(log.t[log.t.length - 1] / GRID_S) + 1 }, (_, i) => i * GRID_S);
  const onGrid = (values: Float64Array) => interpolate(log.t, values, grid, Number.POSITIVE_INFINITY);
  const level = runningMedian(drive ? onGrid(drive.values) : meanOfSeries(sensors.map((s) => onGrid(s.values))), 2);
  const h = SMOOTH_S / GRID_S;
  const rate = level.map((_, i) => (level[Math.min(level.length - 1, i + h)] - level[Math.max(0, i - h)]) / (2 * SMOOTH_S));
  const centre = mean(rate);
  return rate.map((v) => v - centre);
}

function energy(values: Float64Array): number {
  return values.reduce((sum, v) => sum + v * v, 0);
}
