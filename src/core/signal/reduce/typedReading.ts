import { commaReadings } from '#core/signal/logs/numbers';
import { write } from '#core/text/words';
import { isTemperature, parseUnit, toBase, UNITS, type Unit } from '#core/units/units';

/** Quantities a person can read from a display, with the unit each is kept in. */
export const TYPED_QUANTITIES = {
  mean_c: { label: 'Mean of the sensors', unit: 'degC' },
  max_c: { label: 'Highest reading', unit: 'degC' },
  hottest_c: { label: 'Hottest sensor', unit: 'degC' },
  coldest_c: { label: 'Coldest sensor', unit: 'degC' },
  rise_k: { label: 'ΔT over the room', unit: null },
  idle_c: { label: 'At idle', unit: 'degC' },
  room_c: { label: 'Room', unit: 'degC' },
  power_w: { label: 'Power', unit: 'W' },
  clock_mhz: { label: 'Clock', unit: 'MHz' },
  voltage_v: { label: 'Voltage', unit: 'V' },
  fan_rpm: { label: 'Fan', unit: 'rpm' },
  fan_pct: { label: 'Fan', unit: 'percent' },
  noise_db: { label: 'Noise', unit: 'dB' },
  exhaust_c: { label: 'Exhaust air', unit: 'degC' },
  throttle_pct: { label: 'Time throttled', unit: 'percent' },
  score: { label: 'Score', unit: null },
  run_time_s: { label: 'Run time', unit: 's' },
  frame_rate: { label: 'Frame rate', unit: null },
  slow_frame_rate: { label: 'Slowest 1 % of frames', unit: null },
  frame_time_s: { label: 'Time of a frame', unit: 'ms' },
} as const satisfies Record<string, { label: string; unit: Unit | null }>;
export type TypedQuantity = keyof typeof TYPED_QUANTITIES;

/** A reading from a display: its value and the step of the display, both in the unit the quantity is kept in. */
export interface TypedReading {
  value: number;
  resolution: number;
}
export type TypedReadings = Partial<Record<TypedQuantity, TypedReading>>;

/** Quantities that a display may show as a range, such as 2100–2400 MHz. */
const RANGES = new Set<TypedQuantity>(['power_w', 'clock_mhz', 'fan_rpm', 'fan_pct']);
const RANGE = /^\s*(\d+(?:[.,]\d+)?)\s*(?:–|—|-|to)\s*(\d+(?:[.,]\d+)?)\s*([^\d\s]*)\s*$/;
const CLOCK_TIME = /^\s*(?:(\d{1,3}):)?(\d{1,3}):(\d{2}(?:[.,]\d+)?)\s*$/;

const PART = /([-−+]?\d+(?:[.,]\d+)?)\s*([^\d\s/,;±−+-][^\d/;±]*)?/g;

/**
 * Reads what a person typed for a quantity: a number with or without its unit, or the same temperature in °C and °F, such as "71.2",
 * "160 °F" or "71.2 °C / 160 °F". The last digit says how finely the display reads.
 * @returns the reading, or the sentence that says what is wrong; null where nothing was typed
 */
export function parseReading(text: string, quantity: TypedQuantity): TypedReading | string | null {
  if (text.trim() === '') return null;
  // a difference in K has no other unit to be told from
  if (quantity === 'rise_k' && /K\s*$/.test(text)) return parseReading(text.replace(/K\s*$/, ''), quantity);
  const { label, unit: kept } = TYPED_QUANTITIES[quantity];
  const range = RANGES.has(quantity) ? RANGE.exec(text) : null;
  if (range) return rangeReading(text, quantity, range);
  const time = kept === 's' ? CLOCK_TIME.exec(text) : null;
  if (time) return clockTime(time);
  const parts = Array.from(text.matchAll(PART));
  if (parts.length === 0 || parts.length > 2 || text.replace(PART, '').replace(/[\s/;,]+/g, '') !== '')
    return `${label}: "${text.trim()}" is no reading; a number with its unit is needed, such as ${example(kept)}.`;
  const readings: TypedReading[] = [];
  for (const [, digits, said] of parts) {
    const unit = said ? parseUnit(said.trim()) : kept;
    if (said && (unit === null || kept === null || UNITS[unit].base !== UNITS[kept].base))
      return `${label}: "${said.trim()}" is no unit of it; ${kept === null ? 'it has none' : `${UNITS[kept].symbol} is what it is kept in`}.`;
    const both = commaReadings(digits);
    const kinds = both?.filter((v) => isPlausible(unit === null ? v : toBase(v, unit), quantity)) ?? [];
    if (both && kinds.length === 2) return `${label}: "${digits}" may be ${both[0]} or ${both[1]}; type it without a comma.`;
    const isThousands = both !== null && kinds[0] === both[0];
    const number = isThousands ? both[0] : Number(digits.replace(',', '.').replace('−', '-'));
    const step = isThousands ? 1 : 10 ** -(digits.split(/[.,]/)[1]?.length ?? 0);
    readings.push(
      unit === null ? { value: number, resolution: step } : { value: toBase(number, unit), resolution: step * UNITS[unit].factor },
    );
  }
  const [first, second] = readings;
  if (!second) return first;
  if (kept === null || !isTemperature(kept)) return `${label}: two numbers are typed; one is needed.`;
  const apart = Math.abs(first.value - second.value);
  // each display rounds to half its step
  if (apart > (first.resolution + second.resolution) / 2 + 1e-9)
    return `${label}: the two readings differ by ${write(apart, 1)} K, which their last digits do not explain; one of them is a misreading.`;
  return first.resolution <= second.resolution ? first : second;
}

/** A range that wavers between two readings: its middle, uniform over its width. */
function rangeReading(text: string, quantity: TypedQuantity, [, from, to, said]: string[]): TypedReading | string {
  const ends = [from, to].map((digits) => parseReading(`${digits} ${said}`, quantity));
  const [low, high] = ends;
  const problem = ends.find((e) => typeof e === 'string');
  if (typeof problem === 'string') return problem;
  if (low === null || high === null || typeof low === 'string' || typeof high === 'string' || high.value < low.value)
    return `${TYPED_QUANTITIES[quantity].label}: "${text.trim()}" is no range; the lower end comes first, such as 2100–2400.`;
  return { value: (low.value + high.value) / 2, resolution: high.value - low.value + Math.max(low.resolution, high.resolution) };
}

/** Minutes and seconds, or hours, minutes and seconds, as a stopwatch shows them. */
function clockTime([, hours, minutes, seconds]: string[]): TypedReading {
  const digits = seconds.replace(',', '.');
  return {
    value: 3600 * Number(hours ?? 0) + 60 * Number(minutes) + Number(digits),
    resolution: 10 ** -(digits.split('.')[1]?.length ?? 0),
  };
}

/**
 * What a display may show of a quantity, in its own unit; by this a comma before three digits is told where only one reading is possible.
 */
const PLAUSIBLE: Partial<Record<Unit, [number, number]>> = {
  degC: [-60, 400],
  W: [0.1, 20_000],
  MHz: [10, 20_000],
  V: [0.2, 60],
  rpm: [50, 50_000],
  dB: [0, 140],
  percent: [0, 100],
  s: [0.0001, 1e7],
};

function isPlausible(value: number, quantity: TypedQuantity): boolean {
  const { unit } = TYPED_QUANTITIES[quantity];
  const [low, high] = (unit && PLAUSIBLE[unit]) ?? [0, 1e12];
  return value >= low && value <= high;
}

const example = (unit: Unit | null): string =>
  ({ degC: '71.2 or 160 °F', W: '140.5', MHz: '2100 or 2.1 GHz', V: '0.95', rpm: '1200', dB: '31.5', percent: '45', s: '95 or 1:35' })[
    unit as string
  ] ?? '4321';
