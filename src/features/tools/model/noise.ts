import { write } from '#core/text/words';
import { atDistance, energeticAverage, LEAST_ABOVE_FLOOR_DB, sourceLevel } from '#core/thermal/noise/levels';

const MOST_READINGS = 100;

/** Readings of a sound meter as typed: numbers in dB parted by spaces, commas or lines; null where one is none. */
export function readLevels(text: string): number[] | null {
  const values = text
    .split(/[;\s]+|,(?!\d)/)
    .filter(Boolean)
    .map((p) => Number(p.replace(',', '.')));
  return values.length > 0 && values.length <= MOST_READINGS && values.every((v) => v >= -20 && v <= 160) ? values : null;
}

/** What a source is by itself, at the distance asked for. */
interface NoiseAnswer {
  reading_db: number;
  source_db: number;
  at_most: boolean;
  above_floor_db: number;
  sentence: string;
}

/** Takes the room out of the mean energy of the readings and turns it to another distance. */
export function noiseOf(levels: number[], floor: number, from_m: number, to_m: number, unit: string): NoiseAnswer {
  const reading = energeticAverage(levels);
  const { level, bound } = sourceLevel(reading, floor);
  const source = atDistance(level, from_m, to_m);
  const above = reading - floor;
  const where = from_m === to_m ? `at ${write(to_m, 2)} m` : `at ${write(to_m, 2)} m, turned from ${write(from_m, 2)} m`;
  const sentence =
    bound === 'at_most'
      ? `At most ${write(source, 1)} ${unit} ${where}: the reading lies ${write(above, 1)} dB over the floor, and under ${LEAST_ABOVE_FLOOR_DB} dB the room cannot be taken out. Go nearer, or wait for a quieter hour.`
      : `${write(source, 1)} ${unit} ${where}, the room taken out: the reading of ${write(reading, 1)} lies ${write(above, 1)} dB over its floor.`;
  return { reading_db: reading, source_db: source, at_most: bound === 'at_most', above_floor_db: above, sentence };
}
