import { IsISO8601, IsOptional, IsUUID } from 'class-validator';
import { reduceTyped, type TypedMore } from '#core/signal/reduce/typed';
import { parseReading, TYPED_QUANTITIES, type TypedQuantity, type TypedReadings } from '#core/signal/reduce/typedReading';
import type { ReduceOptions, Reduction } from '#core/signal/reduce/types';
import { STEP_ENDS, type StepEnd, type TriedStep } from '#core/stability/ladder';
import { Amount, Every, ListOf, Maybe, Nested, OneOf, Reads, Text, YesNo } from '#rules/rules';
import { RunPlace } from './importPlan';

const read = (quantity: TypedQuantity) => (text: string) => {
  const reading = parseReading(text, spokenAs(text, quantity));
  return typeof reading === 'string' ? reading : null;
};

/** A fan may be read in percent of its drive, in the field of its speed. */
const spokenAs = (text: string, quantity: TypedQuantity): TypedQuantity =>
  quantity === 'fan_rpm' && /%\s*$/.test(text) ? 'fan_pct' : quantity;

/** A text that is a reading of a quantity, as a person typed it. */
const Reading = (quantity: TypedQuantity) =>
  Maybe(Every(Reads(read(quantity)), Text(0, 60, `${TYPED_QUANTITIES[quantity].label}: a reading has up to 60 characters.`)));

/** What was read from a display, each as it was typed. */
export class TypedTexts {
  @Reading('mean_c') mean_c?: string;
  @Reading('max_c') max_c?: string;
  @Reading('hottest_c') hottest_c?: string;
  @Reading('coldest_c') coldest_c?: string;
  @Reading('rise_k') rise_k?: string;
  @Reading('idle_c') idle_c?: string;
  @Reading('room_c') room_c?: string;
  @Reading('power_w') power_w?: string;
  @Reading('clock_mhz') clock_mhz?: string;
  @Reading('voltage_v') voltage_v?: string;
  @Reading('fan_rpm') fan_rpm?: string;
  @Reading('noise_db') noise_db?: string;
  @Reading('exhaust_c') exhaust_c?: string;
  @Reading('throttle_pct') throttle_pct?: string;
  @Reading('score') score?: string;
  @Reading('run_time_s') run_time_s?: string;
  @Reading('frame_rate') frame_rate?: string;
  @Reading('slow_frame_rate') slow_frame_rate?: string;
  @Reading('frame_time_s') frame_time_s?: string;
}
export type TypedField = keyof TypedTexts;

/** Fields of a typed run, in the order of the form. */
export const TYPED_FIELDS: TypedField[] = [
  ...(['mean_c', 'max_c', 'hottest_c', 'coldest_c', 'idle_c', 'room_c', 'rise_k'] as const),
  ...(['power_w', 'clock_mhz', 'voltage_v', 'fan_rpm', 'noise_db', 'exhaust_c', 'throttle_pct'] as const),
  ...(['score', 'run_time_s', 'frame_rate', 'slow_frame_rate', 'frame_time_s'] as const),
];

/** A named part or sensor of the device, with its temperature. */
export class TypedPart {
  @Text(1, 80, 'A part has a name of 1 to 80 characters.')
  name!: string;

  @Reading('mean_c')
  text?: string;
}

/** Something that happened, or did not while it was watched, by a stopwatch from the start of the load. */
export class TypedEvent {
  @Text(1, 80, 'An event has a name of 1 to 80 characters, such as shut-off.')
  event!: string;

  @Reading('run_time_s')
  time?: string;

  /** false: it had not come when the watch was stopped */
  @YesNo('Say whether the event came.')
  reached!: boolean;
}

/** One step of a stability ladder, with how it ended. */
export class TypedStep {
  @Amount(1, 100_000, 'A ladder step has a clock between 1 and 100000 MHz.')
  clock_mhz!: number;

  @Maybe(Amount(0, 100, 'The voltage of a ladder step lies between 0 and 100 V.'))
  voltage_v?: number | null;

  @OneOf(Object.keys(STEP_ENDS), 'A step passed, failed, hung, or did not start.')
  end!: StepEnd;

  @Reading('mean_c')
  temperature?: string;

  @Reading('run_time_s')
  held?: string;
}

/** What a person read of one run. */
export class TypedValues {
  @Nested(() => TypedTexts)
  texts!: TypedTexts;

  @Maybe(OneOf(['yes', 'no', 'unknown'], 'Say whether the part throttled: yes, no, or not known.'))
  throttled?: 'yes' | 'no' | 'unknown';

  @Maybe(ListOf(() => TypedPart, 40, 'Up to 40 parts are entered for a run, each with its name.'))
  parts?: TypedPart[];

  @Maybe(ListOf(() => TypedEvent, 10, 'Up to ten events are entered for a run, each with its name.'))
  events?: TypedEvent[];

  @Maybe(ListOf(() => TypedStep, 200, 'Up to 200 steps of a ladder are entered for a run, each with its clock and how it ended.'))
  ladder?: TypedStep[];

  @Maybe(Text(0, 500, 'A note holds up to 500 characters.'))
  note?: string;
}

/** A run that is typed instead of logged. */
export class TypedRun extends TypedValues {
  @IsUUID()
  import_id!: string;

  @Nested(() => RunPlace)
  place!: RunPlace;

  @IsOptional()
  @IsISO8601({}, { message: 'The time it was read is a date with a time.' })
  read_at?: string;

  /** what of the study's own choices is changed with it, so that its readings count */
  @Maybe(Nested(() => StudyChange))
  study?: StudyChange;
}

/** Choices of a study that decide which reading counts. */
export class StudyChange {
  @Maybe(OneOf(['window', 'peak']))
  value_school?: 'window' | 'peak';

  @Maybe(OneOf(['mean', 'hottest']))
  sensor_school?: 'mean' | 'hottest';

  @Maybe(OneOf(['difference', 'absolute']))
  ambient_school?: 'difference' | 'absolute';
}

/** Readings of the texts; those that are empty are left out. The texts keep their rules. */
export function typedReadings(texts: TypedTexts): TypedReadings {
  const readings: TypedReadings = {};
  for (const field of TYPED_FIELDS) {
    const text = texts[field] ?? '';
    const quantity = spokenAs(text, field);
    const reading = parseReading(text, quantity);
    if (reading !== null && typeof reading !== 'string') readings[quantity] = reading;
  }
  return readings;
}

/** The sentence that says why the text of a field cannot be read; null where it can, or is empty. */
export const textProblem = (field: TypedField, text: string): string | null => read(field)(text);

/** What is sent of a form: without the fields, parts and events in which nothing was typed. */
export const withoutEmpty = ({ texts, throttled, parts = [], events = [], ladder = [], note = '' }: TypedValues): TypedValues => ({
  texts: Object.fromEntries(Object.entries(texts).filter(([, text]) => (text ?? '').trim() !== '')) as TypedTexts,
  throttled: throttled ?? 'unknown',
  ...(parts.some((p) => p.text?.trim()) ? { parts: parts.filter((p) => p.text?.trim()) } : {}),
  ...(events.some((e) => e.time?.trim()) ? { events: events.filter((e) => e.time?.trim()) } : {}),
  ...(ladder.length > 0 ? { ladder } : {}),
  ...(note.trim() ? { note: note.trim() } : {}),
});

/** The first sentence that says why what was typed cannot be stored; null where it can. */
export function valuesProblem(values: TypedValues): string | null {
  const texts = (Object.entries(values.texts) as [TypedField, string | undefined][]).map(([f, t]) => textProblem(f, t ?? ''));
  const parts = (values.parts ?? []).flatMap((p) => [
    p.text?.trim() && !p.name.trim() ? 'A part that was read needs its name.' : null,
    textProblem('mean_c', p.text ?? ''),
  ]);
  const events = (values.events ?? []).flatMap((e) => [
    e.time?.trim() && !e.event.trim() ? 'An event with a time needs its name.' : null,
    textProblem('run_time_s', e.time ?? ''),
  ]);
  const steps = (values.ladder ?? []).flatMap((s) => [textProblem('mean_c', s.temperature ?? ''), textProblem('run_time_s', s.held ?? '')]);
  return [...texts, ...parts, ...events, ...steps].find((p) => p !== null) ?? typedProblem(values);
}

const valueRead = (text: string | undefined, quantity: TypedQuantity): number | null => {
  const reading = parseReading(text ?? '', quantity);
  return reading === null || typeof reading === 'string' ? null : reading.value;
};

/** Named parts, events and steps of a typed run, without those that hold nothing. */
export function typedMore({ parts = [], events = [], ladder = [] }: Pick<TypedValues, 'parts' | 'events' | 'ladder'>): TypedMore {
  return {
    ladder: ladder.map(
      (s): TriedStep => ({
        ...{ clock_mhz: s.clock_mhz, voltage_v: s.voltage_v ?? null, end: s.end },
        ...{ temperature_c: valueRead(s.temperature, 'mean_c'), held_s: valueRead(s.held, 'run_time_s') },
      }),
    ),
    parts: parts.flatMap(({ name, text }) => {
      const reading = parseReading(text ?? '', 'mean_c');
      return reading === null || typeof reading === 'string' ? [] : [{ name: name.trim(), reading }];
    }),
    events: events.flatMap(({ event, time, reached }) => {
      const reading = parseReading(time ?? '', 'run_time_s');
      return reading === null || typeof reading === 'string' ? [] : [{ event: event.trim(), s: reading.value, reached }];
    }),
  };
}

/** The reduction of what was typed. */
export const reduceValues = (values: TypedValues, options: Partial<ReduceOptions>): Reduction =>
  reduceTyped(
    typedReadings(values.texts),
    values.throttled === 'yes' ? true : values.throttled === 'no' ? false : null,
    options,
    typedMore(values),
  );

/** The sentence that says what is missing or does not fit together; null where nothing is. */
export function typedProblem(values: TypedValues): string | null {
  const readings = typedReadings(values.texts);
  const { parts, events, ladder = [] } = typedMore(values);
  if (Object.keys(readings).every((q) => q === 'room_c') && parts.length + events.length + ladder.length === 0)
    return 'Enter at least one reading besides the room.';
  const twice = [parts.map((p) => p.name), events.map((e) => e.event)].flatMap((names) => names.filter((n, i) => names.indexOf(n) !== i));
  if (twice.length > 0) return `${twice[0]} is entered twice; each part and each event has one reading.`;
  const { hottest_c, coldest_c, mean_c, max_c, throttle_pct } = readings;
  const above = (a: typeof mean_c, b: typeof mean_c) => a && b && a.value > b.value + (a.resolution + b.resolution) / 2;
  if (above(coldest_c, hottest_c)) return 'The coldest sensor reads above the hottest; one of the two is a misreading.';
  if (above(mean_c, hottest_c)) return 'The mean lies above the hottest sensor; one of the two is a misreading.';
  if (above(coldest_c, mean_c)) return 'The mean lies below the coldest sensor; one of the two is a misreading.';
  if (above(mean_c, max_c)) return 'The mean lies above the highest reading; one of the two is a misreading.';
  if (throttle_pct && (throttle_pct.value > 100 || throttle_pct.value < 0)) return 'The time throttled is a share from 0 to 100 %.';
  if (throttle_pct && throttle_pct.value > 0 && values.throttled === 'no')
    return `It throttled for ${throttle_pct.value} % of the time, but is marked as not throttled; one of the two is wrong.`;
  return null;
}

/** A way to make readings count that do not as the study stands, with what it changes in the study. */
export interface TypedRemedy {
  words: string;
  change: StudyChange;
  /** what it changes in the reduction */
  options: Partial<ReduceOptions>;
}

const BY: TypedRemedy[] = [
  {
    words: 'Compare this study by the mean of the sensors',
    change: { value_school: 'window', sensor_school: 'mean' },
    options: { value: 'mean', aggregate: null },
  },
  { words: 'Compare this study by the highest reading', change: { value_school: 'peak' }, options: { value: 'peak' } },
  {
    words: 'Compare this study by the hottest sensor',
    change: { value_school: 'window', sensor_school: 'hottest' },
    options: { value: 'mean', aggregate: 'hottest' },
  },
];
const ROOMLESS = { change: { ambient_school: 'absolute' as const }, options: { absolute: true } };

/** Ways to let the readings of a run count where the study compares by something that was not typed. */
export function typedRemedies(values: TypedValues, options: Partial<ReduceOptions>): TypedRemedy[] {
  const counts = (change: Partial<ReduceOptions>) => reduceValues(values, { ...options, ...change }).rise_k !== null;
  if (options.rise_wanted === false || counts({})) return [];
  const over = BY.filter((b) => counts(b.options));
  if (over.length > 0) return over;
  const roomless = { words: 'Compare this study by the temperature as it was read, without a room', ...ROOMLESS };
  if (counts(ROOMLESS.options)) return [roomless];
  return BY.map((b) => ({
    words: `${b.words}, without a room`,
    change: { ...b.change, ...ROOMLESS.change },
    options: { ...b.options, ...ROOMLESS.options },
  })).filter((b) => counts(b.options));
}
