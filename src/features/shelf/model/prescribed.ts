/** A maker's own amount for parts up to a size. */
export interface PrescribedAmount {
  /** mm² */
  up_to_mm2: number;
  mass_mg: number | null;
  volume_ml: number | null;
  /** dots that are set, and their diameter, mm */
  dots: number | null;
  dot_mm: number | null;
}

const MOST = 12;
const EXAMPLE = 'up to 400 mm²: 100 mg, 1 dot of 4 mm; up to 1600 mm²: 0.2 ml, 5 dots of 3 mm';
const NUMBER = '(\\d+(?:[.,]\\d+)?)';
const HEAD = new RegExp(`^(?:up )?to ${NUMBER}\\s*mm(?:²|2)$`, 'i');
const DOTS = new RegExp(`^(\\d{1,2})\\s*dots?(?:\\s*of\\s*${NUMBER}\\s*mm)?$`, 'i');
const AMOUNT = new RegExp(`^${NUMBER}\\s*(mg|g|ml|µl)$`, 'i');

const number = (text: string): number => Number(text.replace(',', '.'));

/** The amounts of a text, smallest parts first; null where it cannot be read as such. */
export function readPrescribed(text: string): PrescribedAmount[] | null {
  const entries = text
    .split(';')
    .map((e) => e.trim())
    .filter(Boolean);
  if (entries.length > MOST) return null;
  const amounts: PrescribedAmount[] = [];
  for (const entry of entries) {
    const [head, rest] = entry.split(':').map((p) => p.trim());
    const size = HEAD.exec(head ?? '');
    if (!size || !rest) return null;
    const amount: PrescribedAmount = { up_to_mm2: number(size[1]), mass_mg: null, volume_ml: null, dots: null, dot_mm: null };
    for (const part of rest.split(/,\s+/)) {
      const dots = DOTS.exec(part);
      const mass = dots ? null : AMOUNT.exec(part);
      if (dots) {
        amount.dots = Number(dots[1]);
        amount.dot_mm = dots[2] ? number(dots[2]) : null;
      } else if (mass) {
        const unit = mass[2].toLowerCase();
        if (unit === 'mg' || unit === 'g') amount.mass_mg = number(mass[1]) * (unit === 'g' ? 1000 : 1);
        else amount.volume_ml = number(mass[1]) * (unit === 'ml' ? 1 : 0.001);
      } else return null;
    }
    if (!(amount.up_to_mm2 > 0) || amounts.some((a) => a.up_to_mm2 === amount.up_to_mm2)) return null;
    amounts.push(amount);
  }
  return amounts.sort((a, b) => a.up_to_mm2 - b.up_to_mm2);
}

/** What is wrong with a text of prescribed amounts, as a sentence; null where nothing is. */
export const prescribedProblem = (text: string): string | null =>
  readPrescribed(text) === null
    ? `Prescribed amounts are separated by semicolons, each for parts up to a size, such as "${EXAMPLE}".`
    : null;

/** The amount that is prescribed for a part; null where none is, or the part is larger than all it is said for. */
export const prescribedFor = (text: string | undefined, area_mm2: number): PrescribedAmount | null =>
  (readPrescribed(text ?? '') ?? []).find((a) => area_mm2 <= a.up_to_mm2) ?? null;

/** Parts of a two-part mix by its ratio as typed, such as "10 : 1 by mass"; null where it names none. */
export function readRatio(text: string | undefined): { a: number; b: number } | null {
  if (/\bequal\b/i.test(text ?? '')) return { a: 1, b: 1 };
  const match = new RegExp(`${NUMBER}\\s*:\\s*${NUMBER}`).exec(text ?? '');
  const [a, b] = match ? [number(match[1]), number(match[2])] : [0, 0];
  return a > 0 && b > 0 ? { a, b } : null;
}
