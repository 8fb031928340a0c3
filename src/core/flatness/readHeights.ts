import type { HeightReading } from './flatness';

export const MOST_HEIGHTS = 2000;

/**
 * Reads heights as they are typed or pasted: one point a line, x and y in mm and one or several readings in µm, parted by blanks, tabs,
 * semicolons or commas; a line that begins with a letter is a heading. A comma between digits is a decimal one where semicolons or blanks part.
 * @returns the readings, and a sentence for each line that could not be read
 */
export function readHeights(text: string): { readings: HeightReading[]; problems: string[] } {
  const readings: HeightReading[] = [];
  const problems: string[] = [];
  text.split(/\r?\n/).forEach((line, i) => {
    const plain = line.trim();
    if (plain === '' || /^[\p{L}#"]/u.test(plain)) return;
    const cells = /[;\s]/.test(plain) ? plain.replace(/(\d),(\d)/g, '$1.$2').split(/[;\s,]+/) : plain.split(',');
    const numbers = cells.filter((c) => c !== '').map((c) => Number(c.replace('−', '-')));
    if (numbers.some((n) => !Number.isFinite(n))) problems.push(`Line ${i + 1}: "${plain.slice(0, 60)}" holds something that is no number.`);
    else if (numbers.length < 3) problems.push(`Line ${i + 1}: x, y and at least one height are needed; it has ${numbers.length}.`);
    else for (const height_um of numbers.slice(2)) readings.push({ x_mm: numbers[0], y_mm: numbers[1], height_um });
  });
  if (readings.length > MOST_HEIGHTS)
    return { readings: [], problems: [`${readings.length} readings are more than the ${MOST_HEIGHTS} that are taken at once.`] };
  return { readings, problems: problems.slice(0, 10) };
}
