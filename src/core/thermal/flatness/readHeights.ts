import type { HeightReading } from './flatness';

const MOST_HEIGHTS = 2000;
/** Heights of so many decimals that differ by less than this were read from a micrometer that shows millimetres. */
const DECIMALS_OF_MM = 3;
const LEAST_SPREAD_UM = 1;
const UNITS_UM: Record<string, number> = { mm: 1000, µm: 1, μm: 1, um: 1, nm: 1e-3, mil: 25.4, in: 25_400, inch: 25_400 };

/**
 * Micrometres in the unit at the end of a heading, that of its last column: x y mm, x y h/µm, x; y; height (mm); null where it names none.
 */
function unitOf(heading: string): number | null {
  const last = heading.toLowerCase().match(/[a-zµμ]+(?=[^a-zµμ]*$)/)?.[0] ?? '';
  return UNITS_UM[last] ?? null;
}

/**
 * Reads heights as they are typed or pasted: one point a line, x and y in mm and one or several readings in µm, parted by blanks, tabs,
 * semicolons or commas; a line that begins with a letter is a heading, whose last unit is that of the heights. A comma between digits is a
 * decimal one where semicolons or blanks part. Heights without a unit that can only be millimetres are asked about.
 * @returns the readings, and a sentence for each line that could not be read
 */
export function readHeights(text: string): { readings: HeightReading[]; problems: string[] } {
  const readings: HeightReading[] = [];
  const problems: string[] = [];
  let factor: number | null = null;
  let finest = 0;
  text.split(/\r?\n/).forEach((line, i) => {
    const plain = line.trim();
    if (plain === '') return;
    if (/^[\p{L}#"]/u.test(plain)) {
      factor = unitOf(plain) ?? factor;
      return;
    }
    const cells = /[;\s]/.test(plain) ? plain.replace(/(\d),(\d)/g, '$1.$2').split(/[;\s,]+/) : plain.split(',');
    const numbers = cells.filter((c) => c !== '').map((c) => Number(c.replace('−', '-')));
    if (numbers.some((n) => !Number.isFinite(n)))
      problems.push(`Line ${i + 1}: "${plain.slice(0, 60)}" holds something that is no number.`);
    else if (numbers.length < 3) problems.push(`Line ${i + 1}: x, y and at least one height are needed; it has ${numbers.length}.`);
    else for (const height of numbers.slice(2)) readings.push({ x_mm: numbers[0], y_mm: numbers[1], height_um: height * (factor ?? 1) });
    for (const c of cells.filter((x) => x !== '').slice(2)) finest = Math.max(finest, c.split('.')[1]?.length ?? 0);
  });
  const heights = readings.map((r) => r.height_um);
  if (factor === null && finest >= DECIMALS_OF_MM && Math.max(...heights) - Math.min(...heights) < LEAST_SPREAD_UM)
    problems.push(
      'The heights differ by less than a micrometre and have three decimals, as heights in mm have: name their unit in a heading, such as x y h/mm or x y h/µm.',
    );
  if (readings.length > MOST_HEIGHTS)
    return { readings: [], problems: [`${readings.length} readings are more than the ${MOST_HEIGHTS} that are taken at once.`] };
  return { readings, problems: problems.slice(0, 10) };
}
