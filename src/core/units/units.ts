/** Units that logs use, the names they go by, and the way to the core's own units (°C, K, W, MHz, rpm, V, A, %, dB, s). */

export type Unit = 'degC' | 'degF' | 'K' | 'W' | 'mW' | 'A' | 'V' | 'mV' | 'MHz' | 'GHz' | 'rpm' | 'percent' | 'dB' | 's' | 'ms' | 'min';

interface UnitEntry {
  spellings: string[];
  /** as written for people */
  symbol: string;
  /** unit of the converted values */
  base: Unit;
  factor: number;
  offset: number;
}

const entry = (spellings: string[], symbol: string, base: Unit, factor = 1, offset = 0): UnitEntry => ({
  ...{ spellings, symbol, base, factor, offset },
});

export const UNITS: Record<Unit, UnitEntry> = {
  degC: entry(['°c', 'degc', 'deg c', 'c', 'celsius', 'ºc', '℃'], '°C', 'degC'),
  degF: entry(['°f', 'degf', 'deg f', 'f', 'fahrenheit', 'ºf', '℉'], '°F', 'degC', 5 / 9, -160 / 9),
  K: entry(['k', 'kelvin'], 'K', 'degC', 1, -273.15),
  W: entry(['w', 'watt', 'watts'], 'W', 'W'),
  mW: entry(['mw', 'milliwatt'], 'mW', 'W', 1e-3),
  A: entry(['a', 'amp', 'amps', 'ampere'], 'A', 'A'),
  V: entry(['v', 'volt', 'volts'], 'V', 'V'),
  mV: entry(['mv', 'millivolt', 'millivolts'], 'mV', 'V', 1e-3),
  MHz: entry(['mhz'], 'MHz', 'MHz'),
  GHz: entry(['ghz'], 'GHz', 'MHz', 1000),
  rpm: entry(['rpm', 'r/min', '1/min', 'min-1', 'min⁻¹', 'u/min'], 'rpm', 'rpm'),
  percent: entry(['%', 'percent', 'pct'], '%', 'percent'),
  dB: entry(['db', 'dba', 'db(a)', 'dbc'], 'dB', 'dB'),
  s: entry(['s', 'sec', 'secs', 'second', 'seconds'], 's', 's'),
  ms: entry(['ms', 'millisecond', 'milliseconds'], 'ms', 's', 1e-3),
  min: entry(['min', 'mins', 'minute', 'minutes'], 'min', 's', 60),
};

const bySpelling = new Map(
  (Object.entries(UNITS) as [Unit, UnitEntry][]).flatMap(([unit, e]) => e.spellings.map((s): [string, Unit] => [s, unit])),
);

/** The unit a text stands for, or null. Case does not matter, except that M in mW would be mega and is not a heat load here. */
export const parseUnit = (text: string): Unit | null => bySpelling.get(text.trim().toLowerCase()) ?? null;

/** Units of quantities that no role reads; a column in one of them is not a temperature, power or fan without a unit. */
const OTHER_QUANTITIES = new Set(
  'lx pa hpa kpa mbar bar n m mm cm µm um kg g mg h d l l/h l/min m/s km/h hz khz j kj wh kwh ° deg ω ohm kω mv ma mb gb mb/s gb/s kb/s fps frames count bit bits °c/w k/w w/m2 nm'.split(
    ' ',
  ),
);

/** True for the unit of a quantity that no role reads, such as lx or hPa. */
export const isOtherUnit = (text: string): boolean => OTHER_QUANTITIES.has(text.trim().toLowerCase());

/**
 * Converts a value to the core's unit of that kind: °F and K to °C, mW to W, GHz to MHz, ms and min to s.
 * @example toBase(212, 'degF') // 100
 */
export function toBase(value: number, unit: Unit): number {
  const { factor, offset } = UNITS[unit];
  return value * factor + offset;
}

export const isTemperature = (unit: Unit | null): boolean => unit === 'degC' || unit === 'degF' || unit === 'K';
