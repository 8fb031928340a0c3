import { fUpperTail } from '#core/stats/distributions/f';
import { tQuantile, tTwoSided } from '#core/stats/distributions/t';
import { mean, variance } from '#core/stats/moments';

/** One mount's value of a device in one of its two states. */
export interface DeviceRow {
  device: string;
  state: 'before' | 'after';
  value: number;
}

/** A state before that cannot be mounted again: its one mount enters with the error of its runs. */
export interface RunError {
  /** pooled standard deviation between runs on one mount, and its degrees of freedom */
  sd: number;
  df: number;
  /** runs that each device's state before rests on */
  runs: Record<string, number>;
}

type Interval = [number, number];

export interface DeviceChange {
  device: string;
  before: number;
  after: number;
  /** after − before */
  change: number;
  /** null where no device has two mounts of a state */
  se: number | null;
  /** holds for all devices together (Bonferroni) */
  ci_all_devices: Interval | null;
}

export interface DeviceChanges {
  /** standard deviation between mounts of one device in one state, pooled over all of them */
  within_sd: number | null;
  within_df: number;
  each: DeviceChange[];
  /** mean of the changes of these devices, with the scatter of their mounts */
  these_devices: { change: number; se: number; df: number; ci: Interval } | null;
  /** do they differ in it? F of the interaction; null for one device, or where scatter is not known */
  differs_by_device: { F: number; df1: number; df2: number; p: number } | null;
  /** mean over devices like these, and where the change of another one is to be expected; from three devices on */
  devices_like_these: { change: number; sd: number; df: number; ci: Interval; p: number; prediction: Interval } | null;
}

/**
 * One change made to several devices: estimated within each, never across them.
 *
 * The scatter of mounts is pooled over all devices and states. A state before that cannot be mounted again enters with the error of its
 * runs; its degrees of freedom go together with those of the mounts by Welch and Satterthwaite. What devices like these would show rests on
 * how the changes differ from device to device alone, so that it needs no scatter of mounts.
 *
 * Limits: one scatter for all devices and states; changes of devices taken as drawn from a normal distribution; with three devices its
 * interval is wide.
 * @param rows mounts' values; a device without both states is left out
 * @param fixed error of runs, where the state before cannot be mounted again
 * @returns null where no device has both states
 */
export function compareDevices(rows: DeviceRow[], confidence: number, fixed: RunError | null = null): DeviceChanges | null {
  const cells = pairedCells(rows);
  if (cells.length === 0) return null;
  const scatter = poolScatter(cells.flatMap((c) => (fixed ? [c.after] : [c.before, c.after])));
  const alpha = 1 - confidence;
  const errors = cells.map((c) => changeError(c, scatter, fixed));
  const each = cells.map(({ device, before, after }, i): DeviceChange => {
    const change = mean(after) - mean(before);
    const error = errors[i];
    return {
      ...{ device, before: mean(before), after: mean(after), change },
      se: error && Math.sqrt(error.variance),
      ci_all_devices: error && around(change, Math.sqrt(error.variance), 1 - alpha / cells.length, error.df),
    };
  });
  const changes = each.map((e) => e.change);
  return {
    within_sd: scatter && Math.sqrt(scatter.variance),
    within_df: scatter?.df ?? 0,
    each,
    these_devices: theseDevices(cells, changes, scatter, fixed, confidence),
    differs_by_device: fixed ? null : interaction(cells, changes, scatter),
    devices_like_these: devicesLikeThese(changes, confidence),
  };
}

interface Cell {
  device: string;
  before: number[];
  after: number[];
}

/** Values of the devices that have both states, in the order of first appearance. */
function pairedCells(rows: DeviceRow[]): Cell[] {
  const cells = new Map<string, Cell>();
  for (const { device, state, value } of rows) {
    const cell = cells.get(device) ?? { device, before: [], after: [] };
    cell[state].push(value);
    cells.set(device, cell);
  }
  return [...cells.values()].filter((c) => c.before.length > 0 && c.after.length > 0);
}

interface Pooled {
  variance: number;
  df: number;
}

/** One variance of all cells; null where none has two values. */
function poolScatter(cells: number[][]): Pooled | null {
  const repeated = cells.filter((c) => c.length > 1);
  const df = repeated.reduce((sum, c) => sum + c.length - 1, 0);
  return df === 0 ? null : { variance: repeated.reduce((sum, c) => sum + (c.length - 1) * variance(c), 0) / df, df };
}

/** Variance of a sum of independent parts and its degrees of freedom (Satterthwaite 1946). */
function together(parts: Pooled[]): Pooled {
  const total = parts.reduce((sum, p) => sum + p.variance, 0);
  const shares = parts.reduce((sum, p) => sum + p.variance ** 2 / p.df, 0);
  return { variance: total, df: shares === 0 ? parts[0].df : total ** 2 / shares };
}

function changeError({ device, before, after }: Cell, scatter: Pooled | null, fixed: RunError | null): Pooled | null {
  if (!scatter) return null;
  if (!fixed) return { variance: scatter.variance * (1 / before.length + 1 / after.length), df: scatter.df };
  const runs = fixed.runs[device] ?? 0;
  if (fixed.df === 0 || runs === 0) return null;
  return together([
    { variance: fixed.sd ** 2 / runs, df: fixed.df },
    { variance: scatter.variance / after.length, df: scatter.df },
  ]);
}

function theseDevices(
  cells: Cell[],
  changes: number[],
  scatter: Pooled | null,
  fixed: RunError | null,
  confidence: number,
): DeviceChanges['these_devices'] {
  if (!scatter) return null;
  const share = 1 / cells.length ** 2;
  const mounts = (side: 'before' | 'after') => share * cells.reduce((sum, c) => sum + 1 / c[side].length, 0);
  let error: Pooled;
  if (fixed) {
    const runs = cells.map((c) => fixed.runs[c.device] ?? 0);
    if (fixed.df === 0 || runs.includes(0)) return null;
    error = together([
      { variance: fixed.sd ** 2 * share * runs.reduce((sum, n) => sum + 1 / n, 0), df: fixed.df },
      { variance: scatter.variance * mounts('after'), df: scatter.df },
    ]);
  } else error = { variance: scatter.variance * (mounts('before') + mounts('after')), df: scatter.df };
  const [change, se] = [mean(changes), Math.sqrt(error.variance)];
  return { change, se, df: error.df, ci: around(change, se, confidence, error.df) };
}

/** F of the interaction of device and state: the changes about their weighted mean, against the scatter of mounts. */
function interaction(cells: Cell[], changes: number[], scatter: Pooled | null): DeviceChanges['differs_by_device'] {
  if (!scatter || scatter.variance === 0 || cells.length < 2) return null;
  const weights = cells.map((c) => 1 / (1 / c.before.length + 1 / c.after.length));
  const total = weights.reduce((a, b) => a + b, 0);
  const centre = weights.reduce((sum, w, i) => sum + w * changes[i], 0) / total;
  const df1 = cells.length - 1;
  const F = weights.reduce((sum, w, i) => sum + w * (changes[i] - centre) ** 2, 0) / df1 / scatter.variance;
  return { F, df1, df2: scatter.df, p: fUpperTail(F, df1, scatter.df) };
}

function devicesLikeThese(changes: number[], confidence: number): DeviceChanges['devices_like_these'] {
  const n = changes.length;
  if (n < 3) return null;
  const change = mean(changes);
  const sd = Math.sqrt(variance(changes));
  const se = sd / Math.sqrt(n);
  const df = n - 1;
  return {
    ...{ change, sd, df, ci: around(change, se, confidence, df) },
    p: se === 0 ? (change === 0 ? 1 : 0) : tTwoSided(Math.abs(change) / se, df),
    prediction: around(change, sd * Math.sqrt(1 + 1 / n), confidence, df),
  };
}

function around(centre: number, se: number, confidence: number, df: number): Interval {
  const half = tQuantile((1 + confidence) / 2, df) * se;
  return [centre - half, centre + half];
}
