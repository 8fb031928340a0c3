import { write } from '#core/text/words';
import type { BondLineFit, NoBondLine, ShimReading } from '#core/thermal/conductivity/bondLine';

const MOST_READINGS = 200;

/**
 * Readings typed one a line: thickness in mm, then resistance in K/W.
 * @returns the readings, or the line that cannot be read
 */
export function readShims(text: string): { readings: ShimReading[]; problem: string | null } {
  const lines = text.split('\n').map((l) => l.trim());
  const readings: ShimReading[] = [];
  for (const [i, line] of lines.entries()) {
    if (line === '') continue;
    const parts = line
      .split(/[;\t ]+|,(?=\s)|,(?=\d+\.)/)
      .filter(Boolean)
      .map((p) => Number(p.replace(',', '.')));
    const [thickness_mm, k_per_w] = parts;
    if (parts.length !== 2 || !(thickness_mm > 0 && thickness_mm <= 100) || !(k_per_w > 0 && k_per_w <= 100))
      return { readings, problem: `Line ${i + 1} is not a thickness in mm and a resistance in K/W, such as "0.10 0.245".` };
    readings.push({ thickness_mm, k_per_w });
  }
  if (readings.length > MOST_READINGS) return { readings: [], problem: `Up to ${MOST_READINGS} readings are taken.` };
  return { readings, problem: null };
}

/** What several thicknesses say of a material, or what is missing. */
export function bondLineSentence(fit: BondLineFit | NoBondLine): string {
  if (!fit.ok) return WHY_NOT[fit.why](fit);
  const contact = `mm²·K/W of contact`;
  if (!fit.k_ci || !fit.contact_ci)
    return `${write(fit.k, 2)} W/(m·K), and ${write(fit.contact, 1)} ${contact}. ${WITHOUT[fit.without_interval ?? 'exact']}`;
  const [low, high] = fit.k_ci;
  const bounds = high === null ? `at least ${write(low, 2)}` : `${write(low, 2)} to ${write(high, 2)}`;
  return `${write(fit.k, 2)} W/(m·K) (95 % ${bounds}), and ${write(fit.contact, 1)} ${contact} (${write(fit.contact_ci[0], 1)} to ${write(fit.contact_ci[1], 1)}), from ${fit.shims} thicknesses.`;
}

const WITHOUT = {
  two_shims: 'Two thicknesses give no interval, however often each is read: measure a third.',
  exact: 'All readings lie on the line to the last digit, so that no interval can be given: read finer.',
};

const WHY_NOT: Record<NoBondLine['why'], (fit: NoBondLine) => string> = {
  few_readings: () => 'A line takes three readings or more, over at least two thicknesses.',
  one_thickness: () => 'All readings are of one thickness; a second one tells conductivity from contact.',
  not_growing: () =>
    'The resistance does not grow with the thickness, so that no conductivity can be told: look for pump-out, or for faces that did not meet.',
  negative_contact: ({ contact_ci }) =>
    `The line meets no thickness at ${[...new Set((contact_ci ?? []).map((c) => write(c, 1)))].join(' to ')} mm²·K/W, and no contact is below nought: look for a pressure that changed, an area that is wrong, or thicknesses that are not those under load.`,
};
