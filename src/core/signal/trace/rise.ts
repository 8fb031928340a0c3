import { interpolate, meanOfSeries, rangeOf } from './series';
import { type Channel, PLACES, type Span, type Trace, usable } from './types';

export interface RiseSeries {
  /** time axis of the first usable sensor */
  t: Float64Array;
  sensors: { channel: Channel; temperature: Float64Array }[];
  /** mean of the ambient probes at the sensors' times; null where the room was neither logged nor typed */
  ambient: Float64Array | null;
  /** false where only rises were logged, so that no temperature is known */
  absolute: boolean;
}

/** Widest step, in periods of the channel, across which a line is drawn: more would bridge a gap. */
const WIDEST = 4.2;

interface AmbientSeries {
  t: Float64Array;
  values: Float64Array;
  period_s: number;
}

/**
 * The ambient probes that the rise is taken over: those named, else all that can be relied on in the study's place, else of the next place
 * that has one. A probe with one value all through serves only where there is no other.
 */
export function ambientProbes({ channels, room }: Pick<Trace, 'channels' | 'room'>): Channel[] {
  const good = channels.filter((c) => c.role === 'ambient' && !c.stuck && !c.dead);
  const named = good.filter((c) => room.probes.includes(c.name));
  if (named.length > 0) return named;
  const place = [room.place, ...PLACES].find((p) => good.some((c) => c.place === p));
  const there = good.filter((c) => c.place === place);
  const moving = there.filter((c) => !c.constant);
  return moving.length > 0 ? moving : there;
}

/**
 * Mean of the ambient probes on the time axis of the first; null without a probe that can be relied on.
 * @param span part of the run that is wanted; the whole where none is given
 */
export function ambientSeries(trace: Pick<Trace, 'channels' | 'room'>, span?: Span): AmbientSeries | null {
  const probes = ambientProbes(trace);
  if (probes.length === 0) return null;
  const [{ t: whole, period_s }] = probes;
  const [from, to] = span ? rangeOf(whole, span) : [0, whole.length];
  const t = whole.subarray(from, to);
  const known = probes.map((p) => (p.t === whole ? p.clean.subarray(from, to) : interpolate(p.t, p.clean, t, Number.POSITIVE_INFINITY)));
  return { t, period_s, values: known.length === 1 ? known[0] : meanOfSeries(known) };
}

/** Ambient at other times: interpolated linearly, held at its ends. Whether it was measured there is judged where the value is taken. */
export const ambientAt = (ambient: AmbientSeries, t: Float64Array): Float64Array =>
  interpolate(ambient.t, ambient.values, t, Number.POSITIVE_INFINITY);

/**
 * Usable sensors and ambient on one axis, from which rises over ambient are taken sample by sample; ambient is interpolated linearly in
 * time.
 * @param room typed room temperature in °C, used where no ambient was logged
 * @param replaced true where the typed one stands although one was logged
 */
export function riseSeries(trace: Trace, room: number | null, replaced = false): RiseSeries | null {
  const sensors = usable(trace, 'sensor');
  if (sensors.length === 0) return null;
  const { t } = sensors[0];
  const logged = room === null || !replaced ? ambientSeries(trace) : null;
  const typed = (celsius: number) => new Float64Array(t.length).fill(celsius);
  // sensors that hold rises need no room
  const ambient = logged ? ambientAt(logged, t) : room !== null ? typed(room) : sensors.every((s) => s.rise) ? typed(0) : null;
  return {
    t,
    ambient,
    absolute: logged !== null || room !== null || !sensors.some((s) => s.rise),
    sensors: sensors.map((channel) => {
      const own = channel.t === t ? channel.clean : interpolate(channel.t, channel.clean, t, WIDEST * channel.period_s);
      return { channel, temperature: channel.rise && ambient ? own.map((v, i) => v + ambient[i]) : own };
    }),
  };
}

/** Part of a rise series, samples [from, to). */
export const cutRises = (rises: RiseSeries, from: number, to: number): RiseSeries => ({
  t: rises.t.subarray(from, to),
  ambient: rises.ambient?.subarray(from, to) ?? null,
  absolute: rises.absolute,
  sensors: rises.sensors.map(({ channel, temperature }) => ({ channel, temperature: temperature.subarray(from, to) })),
});

/** ΔT over ambient of a temperature on the axis of the series; the temperature itself where there is no ambient. */
export function overAmbient(rises: RiseSeries, temperature: Float64Array): Float64Array {
  if (!rises.ambient) return temperature;
  const rise = new Float64Array(temperature.length);
  for (let i = 0; i < rise.length; i++) rise[i] = temperature[i] - rises.ambient[i];
  return rise;
}
