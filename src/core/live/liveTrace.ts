import type { Role } from '#core/signal/logs/types';
import { interpolate, meanOfSeries, rangeOf } from '#core/signal/trace/series';
import type { LiveChannel } from './types';

/** Readings that are thinned together. */
const THIN_AT_ONCE = 2000;

/** Readings of a channel that grows at its end; a late reading is put where it belongs. */
export class GrowingSeries {
  private times = new Float64Array(256);
  private readings = new Float64Array(256);
  length = 0;
  /** readings at its beginning that are thinned already */
  private thinned = 0;

  /** A reading for a time that is already there replaces nothing and is passed over. */
  append(t: number, value: number): void {
    let at = this.length;
    while (at > 0 && this.times[at - 1] > t) at--;
    if (at > 0 && this.times[at - 1] === t) return;
    if (this.length === this.times.length) this.grow();
    this.times.copyWithin(at + 1, at, this.length);
    this.readings.copyWithin(at + 1, at, this.length);
    this.times[at] = t;
    this.readings[at] = value;
    this.length++;
  }

  get t(): Float64Array {
    return this.times.subarray(0, this.length);
  }

  get values(): Float64Array {
    return this.readings.subarray(0, this.length);
  }

  /** Readings of [from, to). */
  span(from: number, to: number): { t: Float64Array; values: Float64Array } {
    const [a, b] = rangeOf(this.t, { start_s: from, end_s: to });
    return { t: this.times.subarray(a, b), values: this.readings.subarray(a, b) };
  }

  /**
   * Leaves of the readings before a time one per step, so that a dense and long run takes no more memory than it is worth.
   * What was thinned before is not looked at again.
   */
  thin(before: number, step: number): void {
    const [to] = rangeOf(this.t, { start_s: before, end_s: Number.POSITIVE_INFINITY });
    let kept = Math.min(this.thinned, to);
    if (to - kept < THIN_AT_ONCE) return;
    let last = kept > 0 ? this.times[kept - 1] : Number.NEGATIVE_INFINITY;
    for (let i = kept; i < to; i++) {
      if (this.times[i] - last < step) continue;
      this.times[kept] = this.times[i];
      this.readings[kept] = this.readings[i];
      last = this.times[i];
      kept++;
    }
    this.times.copyWithin(kept, to, this.length);
    this.readings.copyWithin(kept, to, this.length);
    this.length -= to - kept;
    this.thinned = kept;
  }

  /** Forgets readings before a time, so that a long run takes no more memory than a short one. */
  forget(before: number): void {
    const [from] = rangeOf(this.t, { start_s: before, end_s: Number.POSITIVE_INFINITY });
    if (from < this.length / 2 || from === 0) return;
    this.times.copyWithin(0, from, this.length);
    this.readings.copyWithin(0, from, this.length);
    this.length -= from;
    this.thinned = Math.max(0, this.thinned - from);
  }

  private grow(): void {
    const double = (old: Float64Array) => {
      const next = new Float64Array(2 * old.length);
      next.set(old);
      return next;
    };
    this.times = double(this.times);
    this.readings = double(this.readings);
  }
}

/** Widest step across which a line is drawn, in periods of its channel. */
const WIDEST = 4.2;

/** The channels of a live run as far as they have come. */
export class LiveTrace {
  readonly series = new Map<string, GrowingSeries>();
  /** sensors that take no part, such as one that is stuck */
  readonly muted = new Set<string>();

  constructor(readonly channels: LiveChannel[]) {
    for (const c of channels) this.series.set(c.name, new GrowingSeries());
  }

  append(name: string, t: number, value: number): void {
    this.series.get(name)?.append(t, value);
  }

  /** Channels of a role, with their readings. */
  of(role: Role): { channel: LiveChannel; series: GrowingSeries }[] {
    return this.channels
      .filter((c) => c.role === role && !this.muted.has(c.name))
      .map((channel) => ({ channel, series: this.series.get(channel.name) as GrowingSeries }));
  }

  /** Time of the newest reading of any channel; −∞ before the first. */
  get newest(): number {
    let newest = Number.NEGATIVE_INFINITY;
    for (const s of this.series.values()) if (s.length > 0) newest = Math.max(newest, s.t[s.length - 1]);
    return newest;
  }

  /** Mean of a role's channels over [from, to); null without a reading. */
  mean(role: Role, from: number, to: number): number | null {
    const means = this.of(role).flatMap(({ series }) => meanOf(series.span(from, to).values) ?? []);
    return means.length === 0 ? null : means.reduce((s, v) => s + v, 0) / means.length;
  }

  /**
   * Highest reading of a role's channels over [from, to), as the median of its last few so that a spike alone does not count; null without
   * one.
   */
  highest(role: Role, from: number, to: number): number | null {
    let highest: number | null = null;
    for (const { series } of this.of(role)) {
      const { values } = series.span(from, to);
      const last = Array.from(values.subarray(Math.max(0, values.length - 3))).filter((v) => !Number.isNaN(v));
      if (last.length === 0) continue;
      const level = last.sort((a, b) => a - b)[Math.floor(last.length / 2)];
      if (highest === null || level > highest) highest = level;
    }
    return highest;
  }

  /**
   * Mean rise of the sensors over ambient in [from, to), at the times of the first sensor; instants at which any of them is missing are
   * left out.
   * @param room typed room, °C, where none is read
   */
  rise(from: number, to: number, room: number | null): { t: Float64Array; values: Float64Array } {
    const sensors = this.of('sensor').filter((s) => s.series.length > 0);
    const none = { t: new Float64Array(0), values: new Float64Array(0) };
    if (sensors.length === 0) return none;
    const { t } = sensors[0].series.span(from, to);
    const at = (c: { channel: LiveChannel; series: GrowingSeries }) => {
      const reach = WIDEST * c.channel.period_s;
      const near = c.series.span(from - reach, to + reach);
      return near.t.length === 0 ? new Float64Array(t.length).fill(Number.NaN) : interpolate(near.t, near.values, t, reach);
    };
    const level = meanOfSeries(sensors.map(at));
    const rooms = this.of('ambient').filter((c) => c.series.length > 0);
    if (rooms.length === 0 && room === null) return none;
    const ambient = rooms.length > 0 ? meanOfSeries(rooms.map(at)) : new Float64Array(t.length).fill(room as number);
    const keep: number[] = [];
    for (let i = 0; i < t.length; i++) if (!Number.isNaN(level[i] - ambient[i])) keep.push(i);
    return { t: Float64Array.from(keep, (i) => t[i]), values: Float64Array.from(keep, (i) => level[i] - ambient[i]) };
  }

  forget(before: number): void {
    for (const s of this.series.values()) s.forget(before);
  }

  thin(before: number, step: number): void {
    for (const s of this.series.values()) s.thin(before, step);
  }
}

/** Mean of what is known; null where nothing is. */
export function meanOf(values: Float64Array): number | null {
  let sum = 0;
  let n = 0;
  for (const v of values) {
    if (Number.isNaN(v)) continue;
    sum += v;
    n++;
  }
  return n === 0 ? null : sum / n;
}
