import { IsISO8601, IsOptional, IsUUID } from 'class-validator';
import { parseReading, TYPED_QUANTITIES, type TypedQuantity, type TypedReadings } from '#core/signal/reduce/typed';
import { Every, Maybe, Nested, OneOf, Reads, Text } from '#rules/rules';
import { RunPlace } from './importPlan';

const read = (quantity: TypedQuantity) => (text: string) => {
  const reading = parseReading(text, quantity);
  return typeof reading === 'string' ? reading : null;
};

/** A text that is a reading of a quantity, as a person typed it. */
const Reading = (quantity: TypedQuantity) =>
  Maybe(Every(Reads(read(quantity)), Text(0, 60, `${TYPED_QUANTITIES[quantity].label}: a reading has up to 60 characters.`)));

/** What was read from a display, each as it was typed. */
export class TypedTexts {
  @Reading('mean_c') mean_c?: string;
  @Reading('max_c') max_c?: string;
  @Reading('hottest_c') hottest_c?: string;
  @Reading('coldest_c') coldest_c?: string;
  @Reading('idle_c') idle_c?: string;
  @Reading('room_c') room_c?: string;
  @Reading('power_w') power_w?: string;
  @Reading('clock_mhz') clock_mhz?: string;
  @Reading('voltage_v') voltage_v?: string;
  @Reading('fan_rpm') fan_rpm?: string;
  @Reading('noise_db') noise_db?: string;
  @Reading('score') score?: string;
  @Reading('frame_rate') frame_rate?: string;
}

/** A run that is typed instead of logged. */
export class TypedRun {
  @IsUUID()
  import_id!: string;

  @Nested(() => RunPlace)
  place!: RunPlace;

  @Nested(() => TypedTexts)
  texts!: TypedTexts;

  @Maybe(OneOf(['yes', 'no', 'unknown'], 'Say whether the part throttled: yes, no, or not known.'))
  throttled?: 'yes' | 'no' | 'unknown';

  @IsOptional()
  @IsISO8601({}, { message: 'The time it was read is a date with a time.' })
  read_at?: string;
}

/** Readings of the texts; those that are empty are left out. The texts keep their rules. */
export function typedReadings(texts: TypedTexts): TypedReadings {
  const readings: TypedReadings = {};
  for (const quantity of Object.keys(TYPED_QUANTITIES) as TypedQuantity[]) {
    const reading = parseReading(texts[quantity] ?? '', quantity);
    if (reading !== null && typeof reading !== 'string') readings[quantity] = reading;
  }
  return readings;
}

/** The sentence that says what is missing for a value; null where nothing is. */
export function typedProblem(readings: TypedReadings): string | null {
  const temperatures: TypedQuantity[] = ['mean_c', 'max_c', 'hottest_c'];
  if (!temperatures.some((q) => readings[q]))
    return 'Type at least one temperature under load: the mean, the highest reading, or the hottest sensor.';
  const { hottest_c, coldest_c, mean_c, max_c } = readings;
  const above = (a: typeof mean_c, b: typeof mean_c) => a && b && a.value > b.value + (a.resolution + b.resolution) / 2;
  if (above(coldest_c, hottest_c)) return 'The coldest sensor reads above the hottest; one of the two is misread.';
  if (above(mean_c, hottest_c)) return 'The mean lies above the hottest sensor; one of the two is misread.';
  if (above(coldest_c, mean_c)) return 'The mean lies below the coldest sensor; one of the two is misread.';
  if (above(mean_c, max_c)) return 'The mean lies above the highest reading; one of the two is misread.';
  return null;
}
