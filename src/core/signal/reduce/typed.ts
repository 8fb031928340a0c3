import type { Finding } from '#core/compare/types';
import { commaReadings } from '#core/signal/logs/numbers';
import { likelyF } from '#core/signal/trace/buildTrace';
import { write } from '#core/text/words';
import { isTemperature, parseUnit, toBase, UNITS, type Unit } from '#core/units/units';
import { acceptFindings, openDecisions, resistanceStands } from './decisions';
import { heldFindings } from './findings';
import { REDUCE_DEFAULTS, type ReduceOptions, type Reduction } from './types';
import type { WindowMean } from './windowMeans';

/** Quantities a person can read from a display, with the unit each is kept in. */
export const TYPED_QUANTITIES = {
  mean_c: { label: 'Mean of the sensors', unit: 'degC' },
  max_c: { label: 'Highest reading', unit: 'degC' },
  hottest_c: { label: 'Hottest sensor', unit: 'degC' },
  coldest_c: { label: 'Coldest sensor', unit: 'degC' },
  idle_c: { label: 'At idle', unit: 'degC' },
  room_c: { label: 'Room', unit: 'degC' },
  power_w: { label: 'Power', unit: 'W' },
  clock_mhz: { label: 'Clock', unit: 'MHz' },
  voltage_v: { label: 'Voltage', unit: 'V' },
  fan_rpm: { label: 'Fan', unit: 'rpm' },
  noise_db: { label: 'Noise', unit: 'dB' },
  score: { label: 'Score', unit: null },
  frame_rate: { label: 'Frame rate', unit: null },
} as const satisfies Record<string, { label: string; unit: Unit | null }>;
export type TypedQuantity = keyof typeof TYPED_QUANTITIES;

/** A reading from a display: its value and the step of the display, both in the unit the quantity is kept in. */
interface TypedReading {
  value: number;
  resolution: number;
}
export type TypedReadings = Partial<Record<TypedQuantity, TypedReading>>;

const PART = /([-−+]?\d+(?:[.,]\d+)?)\s*([^\d\s/,;±−+-][^\d/;±]*)?/g;

/**
 * Reads what a person typed for a quantity: a number with or without its unit, or the same temperature in °C and °F, such as "71.2",
 * "160 °F" or "71.2 °C / 160 °F". The last digit says how finely the display reads.
 * @returns the reading, or the sentence that says what is wrong; null where nothing was typed
 */
export function parseReading(text: string, quantity: TypedQuantity): TypedReading | string | null {
  if (text.trim() === '') return null;
  const { label, unit: kept } = TYPED_QUANTITIES[quantity];
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
    return `${label}: the two readings differ by ${write(apart, 1)} K, which their last digits do not explain; one of them is misread.`;
  return first.resolution <= second.resolution ? first : second;
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
};

function isPlausible(value: number, quantity: TypedQuantity): boolean {
  const { unit } = TYPED_QUANTITIES[quantity];
  const [low, high] = (unit && PLAUSIBLE[unit]) ?? [0, 1e12];
  return value >= low && value <= high;
}

const example = (unit: Unit | null): string =>
  ({ degC: '71.2 or 160 °F', W: '140.5', MHz: '2100 or 2.1 GHz', V: '0.95', rpm: '1200', dB: '31.5' })[unit as string] ?? '4321';

/**
 * A run of readings taken from a display: no trace, no window, steadiness unknown. Each reading carries its display's step as a type B
 * uncertainty (uniform over one step).
 * @param throttled what the person saw; null where nobody can say
 */
export function reduceTyped(readings: TypedReadings, throttled: boolean | null, given: Partial<ReduceOptions> = {}): Reduction {
  const options: ReduceOptions = { ...REDUCE_DEFAULTS, ...given };
  const of = (q: TypedQuantity) => readings[q]?.value ?? null;
  const aggregate = options.aggregate ?? 'mean';
  const chosen: TypedQuantity = options.value === 'peak' ? 'max_c' : aggregate === 'hottest' ? 'hottest_c' : 'mean_c';
  const room = of('room_c');
  const rise = (q: TypedQuantity) => (room === null || of(q) === null ? null : Number(of(q)) - room);
  const known = options.value === 'mean' || options.value === 'peak' ? rise(chosen) : null;
  const typeB = (q: TypedQuantity) => (readings[q]?.resolution ?? 0) / Math.sqrt(12);
  const se = known === null ? null : Math.hypot(typeB(chosen), typeB('room_c'), options.room_u_k ?? 0);
  const mean = rise(chosen);
  const power = of('power_w');
  const resistance = mean !== null && power !== null && power > 0 ? mean / power : null;
  const censored = throttled === true;
  const coldest = of('coldest_c');
  const hottest = of('hottest_c');
  const findings = acceptFindings(typedFindings(readings, throttled, known, options), options.accept);
  const decision = openDecisions(findings);
  return {
    ...{
      samples: 0,
      period_s: 0,
      duration_s: 0,
      rows: { partial: 0, ragged: 0, repeated: 0, summary: 0, out_of_order: 0 },
      channels: [],
      clock_offset_s: {},
    },
    ...{ stages: [], window: null, auto_window: null, steady: false, steady_at_s: null, slope_k_per_min: null },
    ambient_c: room === null ? null : { mean: room, min: room, max: room, drift_k_per_h: null },
    ...{ sensors: [], aggregate, value: options.value },
    rise_k: known,
    se_k: se,
    ci_k: known === null || se === null ? null : [known - 1.96 * se, known + 1.96 * se],
    resolution_k: readings[chosen]?.resolution ?? null,
    mean_rise_k: rise('mean_c'),
    peak_rise_k: rise('max_c'),
    ...{ fitted_rise_k: null, fixed_rise_k: null },
    idle_rise_k: rise('idle_c'),
    hottest_rise_k: rise('hottest_c'),
    spread_k: hottest !== null && coldest !== null ? hottest - coldest : null,
    power_w: power,
    r_k_per_w: resistance,
    fan_rpm: of('fan_rpm'),
    clock_mhz: of('clock_mhz'),
    noise_db: of('noise_db'),
    exhaust_rise_k: null,
    throttled_share: throttled === null ? null : throttled ? 1 : 0,
    censored,
    valid: known !== null && !censored && decision.length === 0,
    r_valid: resistance !== null && resistanceStands(decision),
    decision,
    alternatives: [],
    ...{ events: [], times_to: [], fan: null },
    performance: typedPerformance(of('score'), of('frame_rate'), power),
    start_state: { sensor_rise_k: null, coolant_rise_k: null },
    findings,
  };
}

function typedPerformance(score: number | null, rate: number | null, power: number | null): Reduction['performance'] {
  if (score === null && rate === null) return null;
  return {
    ...{ score, run_time_s: null, frame_rate: rate, slow_frame_rate: null },
    frame_time_ms: rate !== null && rate > 0 ? 1000 / rate : null,
    score_per_w: score !== null && power ? score / power : null,
  };
}

/** A list of checks, one a finding. */
function typedFindings(readings: TypedReadings, throttled: boolean | null, rise: number | null, options: ReduceOptions): Finding[] {
  const findings: Finding[] = [
    {
      code: 'read_by_hand',
      severity: 'warn',
      message: 'Read by hand from a display: whether it was steady is not known, and its uncertainty is that of the last digit.',
    },
  ];
  if (!readings.room_c)
    findings.push({
      code: 'ambient_missing',
      severity: 'reject',
      message: 'No room temperature was typed, so there is no rise over ambient.',
    });
  else
    findings.push({
      code: 'ambient_typed',
      severity: 'warn',
      message: `One typed room value of ${write(readings.room_c.value, 1)} °C stands for the whole run.`,
    });
  if (rise === null && readings.room_c) {
    const wanted =
      options.value === 'peak'
        ? 'the highest reading'
        : options.value === 'mean'
          ? options.aggregate === 'hottest'
            ? 'the hottest sensor'
            : 'the mean of the sensors'
          : null;
    const message = wanted
      ? `The study compares by ${wanted}, which was not typed.`
      : `The study compares by a ${options.value === 'fixed' ? 'fixed time' : 'fitted end value'}, which a display does not show.`;
    findings.push({ code: 'value_missing', severity: 'reject', message });
  }
  if (throttled)
    findings.push({
      code: 'throttled',
      severity: 'reject',
      message: 'The part throttled: the rise is at or above the figure shown, and takes no part in means.',
    });
  const hottest = Math.max(...(['mean_c', 'max_c', 'hottest_c'] as const).map((q) => readings[q]?.value ?? Number.NEGATIVE_INFINITY));
  if (hottest > 130)
    findings.push({
      code: 'unit_suspect',
      severity: 'decide',
      message: `${write(hottest, 0)} °C under load is survived by no such part: was it read in °F?`,
    });
  if (readings.room_c && (likelyF(readings.room_c.value, options.ambient_band_c) || readings.room_c.value < -40)) {
    findings.push({
      code: 'unit_suspect',
      severity: 'decide',
      message: `A room of ${write(readings.room_c.value, 0)} °C is none: was it read in °F?`,
    });
  }
  if (rise !== null && rise < -2) {
    const message = `The part reads ${write(-rise, 1)} K below the room under load: one of the two was read wrong, or from the other display.`;
    findings.push({ code: 'rise_impossible', severity: 'decide', message });
  }
  if (!throttled && options.limit_c !== null && hottest > options.limit_c - 3) {
    findings.push({
      code: 'near_limit',
      severity: 'note',
      message: `The hottest reading of ${write(hottest, 1)} °C comes within 3 K of the limit of ${write(options.limit_c, 0)} °C.`,
    });
  }
  const asMean = (q: TypedQuantity): WindowMean | null => {
    const value = readings[q]?.value;
    return value === undefined ? null : { mean: value, sd: 0, min: value, max: value };
  };
  return [...findings, ...heldFindings(options, { power: asMean('power_w'), fan: asMean('fan_rpm'), clock: asMean('clock_mhz') })];
}
