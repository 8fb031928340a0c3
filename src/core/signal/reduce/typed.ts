import type { Finding } from '#core/compare/types';
import { likelyF } from '#core/signal/trace/buildTrace';
import { highestClock, ladderVoltages, type TriedStep } from '#core/stability/ladder';
import { write } from '#core/text/words';
import { acceptFindings, openDecisions, resistanceStands } from './decisions';
import { heldFindings } from './findings';
import type { TypedQuantity, TypedReading, TypedReadings } from './typedReading';
import { REDUCE_DEFAULTS, type ReducedSensor, type ReduceOptions, type Reduction, type TimeTo } from './types';
import type { WindowMean } from './windowMeans';

/** What a person read of a run besides its single quantities. */
export interface TypedMore {
  /** named parts or sensors with their temperatures */
  parts: { name: string; reading: TypedReading }[];
  /** events by the stopwatch, from the start of the load */
  events: TimeTo[];
  /** steps of a stability ladder */
  ladder?: TriedStep[];
}

const typeB = (reading: TypedReading | undefined): number => (reading?.resolution ?? 0) / Math.sqrt(12);

/** The quantity that the study compares by, as a person may have typed it. */
const chosenOf = ({ value, aggregate }: ReduceOptions): TypedQuantity =>
  value === 'peak' ? 'max_c' : aggregate === 'hottest' ? 'hottest_c' : 'mean_c';

/**
 * A run of readings taken from a display: no trace, no window, steadiness unknown. Each reading carries its display's step as a type B
 * uncertainty (uniform over one step).
 * @param throttled what the person saw; null where nobody can say
 */
export function reduceTyped(
  typed: TypedReadings,
  throttled: boolean | null,
  given: Partial<ReduceOptions> = {},
  { parts, events, ladder = [] }: TypedMore = { parts: [], events: [] },
): Reduction {
  // a ladder is complete without a temperature
  const options: ReduceOptions = { ...REDUCE_DEFAULTS, ...given, ...(ladder.length > 0 ? { rise_wanted: false } : {}) };
  const readings = withParts(typed, parts);
  const of = (q: TypedQuantity) => readings[q]?.value ?? null;
  const named = options.aggregate === 'named' ? parts.find((p) => p.name === options.sensor)?.reading : undefined;
  const chosen = named ?? (options.aggregate === 'named' ? undefined : readings[chosenOf(options)]);
  const room = of('room_c');
  const over = (value: number | null | undefined) => (room === null || value == null ? null : value - room);
  const rise = (q: TypedQuantity) => over(of(q));
  const shown = options.value === 'mean' || options.value === 'peak' ? (chosen?.value ?? null) : null;
  // a rise that was read as such stands where its two temperatures were not read
  const known = options.absolute ? shown : (over(shown) ?? of('rise_k'));
  const roomError = options.absolute ? 0 : Math.hypot(typeB(readings.room_c), options.room_u_k ?? 0);
  const isRead = !options.absolute && over(shown) === null;
  const se = known === null ? null : isRead ? typeB(readings.rise_k) : Math.hypot(typeB(chosen), roomError);
  const mean = rise('mean_c') ?? over(named?.value) ?? of('rise_k');
  const power = of('power_w');
  const resistance = mean !== null && power !== null && power > 0 ? mean / power : null;
  const share = of('throttle_pct') === null ? null : Number(of('throttle_pct')) / 100;
  const censored = throttled === true || (share !== null && share > CENSORED_SHARE);
  const hottest = of('hottest_c');
  const coldest = of('coldest_c');
  const findings = acceptFindings([...typedFindings(readings, censored, known, shown, options), ...ladderFindings(ladder)], options.accept);
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
    sensors: parts.map((p) => sensorOf(p, room, roomError)),
    ...{ aggregate: options.aggregate ?? 'mean', value: options.value },
    ...(options.absolute ? { absolute: true } : {}),
    rise_k: known,
    se_k: se,
    ci_k: known === null || se === null ? null : [known - 1.96 * se, known + 1.96 * se],
    resolution_k: (isRead ? readings.rise_k : chosen)?.resolution ?? null,
    mean_rise_k: rise('mean_c'),
    peak_rise_k: rise('max_c'),
    ...{ fitted_rise_k: null, fixed_rise_k: null },
    idle_rise_k: rise('idle_c'),
    hottest_rise_k: rise('hottest_c'),
    spread_k: hottest !== null && coldest !== null ? hottest - coldest : null,
    power_w: power,
    r_k_per_w: resistance,
    fan_rpm: of('fan_rpm'),
    fan_pct: of('fan_pct'),
    clock_mhz: of('clock_mhz'),
    voltage_v: of('voltage_v'),
    noise_db: of('noise_db'),
    exhaust_rise_k: rise('exhaust_c'),
    throttled_share: share ?? (throttled === null ? null : throttled ? 1 : 0),
    censored,
    // where no rise is wanted, the other figures stand by themselves
    valid: (known !== null || !options.rise_wanted) && !censored && decision.length === 0,
    r_valid: resistance !== null && resistanceStands(decision),
    decision,
    alternatives: [],
    ...{ events: [], times_to: events, fan: null },
    performance: typedPerformance(readings),
    ...(ladder.length > 0 ? { ladder } : {}),
    start_state: { sensor_rise_k: null, coolant_rise_k: null },
    findings,
  };
}

/** Over this share of throttled time a rise is a lower bound (method, §3.7). */
const CENSORED_SHARE = 0.005;

/** Hottest and coldest are those of the named parts where they were not read by themselves. */
function withParts(typed: TypedReadings, parts: TypedMore['parts']): TypedReadings {
  if (parts.length < 2) return typed;
  const sorted = parts.map((p) => p.reading).sort((a, b) => a.value - b.value);
  return { hottest_c: sorted.at(-1), coldest_c: sorted[0], ...typed };
}

const sensorOf = ({ name, reading }: TypedMore['parts'][number], room: number | null, roomError: number): ReducedSensor => ({
  ...{ name, mean_c: reading.value, max_c: null, n_eff: null },
  rise_k: room === null ? null : reading.value - room,
  se_k: Math.hypot(typeB(reading), roomError),
});

function typedPerformance(readings: TypedReadings): Reduction['performance'] {
  const of = (q: TypedQuantity) => readings[q]?.value ?? null;
  const [score, rate, power, frame] = [of('score'), of('frame_rate'), of('power_w'), of('frame_time_s')];
  const told = { score, run_time_s: of('run_time_s'), frame_rate: rate, slow_frame_rate: of('slow_frame_rate') };
  if (frame === null && Object.values(told).every((v) => v === null)) return null;
  return {
    ...told,
    frame_time_ms: frame !== null ? 1000 * frame : rate !== null && rate > 0 ? 1000 / rate : null,
    score_per_w: score !== null && power ? score / power : null,
  };
}

/** A list of checks, one a finding. */
function typedFindings(
  readings: TypedReadings,
  throttled: boolean,
  rise: number | null,
  shown: number | null,
  options: ReduceOptions,
): Finding[] {
  const findings: Finding[] = [];
  if (Object.keys(readings).length > 0)
    findings.push({
      code: 'read_by_hand',
      severity: 'warn',
      message: 'Read by hand from a display: whether it was steady is not known, and its uncertainty is that of the last digit.',
    });
  findings.push(...roomFindings(readings, options));
  if (rise === null && shown === null && options.rise_wanted)
    findings.push({ code: 'value_missing', severity: 'reject', message: missingWords(options) });
  if (throttled)
    findings.push({
      code: 'throttled',
      severity: 'reject',
      message: 'The part throttled: ΔT is at or above the figure shown, and left out of means.',
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

/** Steps that passed above one that did not: the lower one decides. */
const ladderFindings = (ladder: TriedStep[]): Finding[] =>
  ladderVoltages(ladder).flatMap((voltage_v): Finding[] => {
    const reached = highestClock(ladder, voltage_v);
    if (!reached?.not_monotone) return [];
    const at = voltage_v === null ? '' : ` at ${voltage_v} V`;
    const counted = reached.value === null ? `below ${reached.short_of} MHz` : `${reached.value} MHz`;
    const message = `A step passed above one that did not${at}. It counts as ${counted}, the highest step below the first that did not pass; try the steps in between once more.`;
    return [{ code: 'not_monotone', severity: 'warn', message }];
  });

/** What a room that was typed, or was not, means for the value. */
function roomFindings({ room_c, exhaust_c, rise_k }: TypedReadings, { absolute, rise_wanted }: ReduceOptions): Finding[] {
  if (room_c) {
    const message = `One typed room value of ${write(room_c.value, 1)} °C is used for the whole run.`;
    return [{ code: 'ambient_typed', severity: 'warn', message }];
  }
  const without: Finding[] = exhaust_c
    ? [{ code: 'exhaust_not_counted', severity: 'note', message: 'The exhaust was typed without the room: it is kept, and not compared.' }]
    : [];
  if (!rise_wanted || (rise_k && !absolute)) return without;
  if (absolute) {
    const message =
      'No room temperature was typed: the temperature is compared as it was read, and a warmer room counts against what was measured in it.';
    return [{ code: 'ambient_missing', severity: 'warn', message }, ...without];
  }
  return [
    { code: 'ambient_missing', severity: 'reject', message: 'No room temperature was typed, so there is no ΔT over ambient.' },
    ...without,
  ];
}

function missingWords({ value, aggregate, sensor }: ReduceOptions): string {
  if (value === 'fixed' || value === 'fitted')
    return `The study compares by a ${value === 'fixed' ? 'fixed time' : 'fitted end value'}, which a display does not show.`;
  const wanted =
    value === 'peak'
      ? 'the highest reading'
      : aggregate === 'named'
        ? `the part or sensor ${sensor}`
        : aggregate === 'hottest'
          ? 'the hottest sensor'
          : 'the mean of the sensors';
  return `The study compares by ${wanted}, which was not typed.`;
}
