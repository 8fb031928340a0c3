import type { FanFigures } from '#core/signal/reduce/types';
import { write } from '#core/text/words';
import type { CoolerSheet } from '#features/shelf/model/sheets';

/** What a cooler must fit into, as a plan says it. */
interface Enclosure {
  name: string;
  /** room above the part, mm; null where not stated */
  height_mm: number | null;
  /** what its board carries, g; null where not stated */
  mass_g: number | null;
}

/** A cooler with its sheet and what its fan did in each run. */
interface CoolerInput {
  specimen: string;
  position: number;
  sheet: Partial<
    Pick<
      CoolerSheet,
      'height_mm' | 'measured_height_mm' | 'mass_g' | 'measured_mass_g' | 'base_flatness_um' | 'price' | 'currency' | 'sound'
    >
  > | null;
  /** photographs of its base, by their number */
  photographs: number[];
  fans: FanFigures[];
}

const withThe = (name: string) => (/^(the|an?|my|our|your)\s/i.test(name) ? name : `the ${name}`);

/** A cooler as it stands beside the others: size, mass, price, base, whether it fits, and how its fan behaves. */
export interface CoolerBuild {
  specimen: string;
  position: number;
  height_mm: number | null;
  mass_g: number | null;
  base_flatness_um: number | null;
  price: string;
  fits: 'yes' | 'no' | 'not known' | 'not asked';
  sound: string;
  photographs: number[];
  sentences: string[];
}

/** What is stated and what was measured differ where they lie further apart than this. */
const STATED_SHARE = 0.02;
const STATED_LEAST = 1;
/** A fan that surges more often than this, or starts later, is told. */
const SURGES_PER_MIN = 0.2;
const LATE_S = 10;

export function coolerBuild({ specimen, position, sheet, photographs, fans }: CoolerInput, enclosure: Enclosure | null): CoolerBuild {
  const height_mm = sheet?.measured_height_mm ?? sheet?.height_mm ?? null;
  const mass_g = sheet?.measured_mass_g ?? sheet?.mass_g ?? null;
  const faults = enclosure
    ? [tooMuch(height_mm, enclosure.height_mm, 'mm high', 'mm'), tooMuch(mass_g, enclosure.mass_g, 'g heavy', 'g')]
    : [];
  const asked = enclosure !== null && (enclosure.height_mm !== null || enclosure.mass_g !== null);
  const unknown =
    enclosure !== null && ((enclosure.height_mm !== null && height_mm === null) || (enclosure.mass_g !== null && mass_g === null));
  const broken = faults.flatMap((f) => f ?? []);
  return {
    ...{ specimen, position, height_mm, mass_g, photographs, base_flatness_um: sheet?.base_flatness_um ?? null, sound: sheet?.sound ?? '' },
    price: sheet?.price === undefined || sheet.price === null ? '' : `${write(sheet.price, 2)} ${sheet.currency ?? ''}`.trim(),
    fits: !asked ? 'not asked' : broken.length > 0 ? 'no' : unknown ? 'not known' : 'yes',
    sentences: [
      ...broken.map((f) => `${specimen} does not fit ${withThe(enclosure?.name || 'enclosure')}: it is ${f}.`),
      ...[
        stated(specimen, 'high', 'mm', sheet?.height_mm, sheet?.measured_height_mm),
        stated(specimen, 'heavy', 'g', sheet?.mass_g, sheet?.measured_mass_g),
      ].flatMap((s) => s ?? []),
      ...fanSentences(specimen, fans),
    ],
  };
}

function tooMuch(value: number | null, most: number | null, words: string, unit: string): string | null {
  if (value === null || most === null || value <= most) return null;
  return `${write(value, 0)} ${words}, ${write(value - most, value - most < 1 ? 1 : 0)} ${unit} more than the ${write(most, 0)} ${unit} there are`;
}

function stated(
  specimen: string,
  words: string,
  unit: string,
  said: number | null | undefined,
  measured: number | null | undefined,
): string | null {
  if (said == null || measured == null) return null;
  const apart = measured - said;
  if (Math.abs(apart) <= Math.max(STATED_LEAST, STATED_SHARE * said)) return null;
  return `${specimen} is ${write(measured, 0)} ${unit} ${words} as measured, ${write(Math.abs(apart), 0)} ${unit} ${apart > 0 ? 'more' : 'less'} than its maker states.`;
}

/** What stands out in how a fan behaves, over all runs of its cooler. */
function fanSentences(specimen: string, fans: FanFigures[]): string[] {
  const surging = fans.filter((f) => f.surges_per_min > SURGES_PER_MIN);
  const late = fans.filter((f) => f.spin_up_s !== null && f.spin_up_s > LATE_S);
  const sentences: string[] = [];
  if (surging.length > 0) {
    const most = surging.reduce((a, b) => (b.surges_per_min > a.surges_per_min ? b : a));
    const cycle = most.cycle_s === null ? '' : `, again and again every ${write(most.cycle_s, 0)} s`;
    sentences.push(
      `The fan of ${specimen} surges up to ${write(most.surges_per_min, 1)} times a minute${cycle} (${surging.length} of ${fans.length} runs): its mean level hides what is heard.`,
    );
  }
  if (late.length > 0) {
    const latest = Math.max(...late.map((f) => f.spin_up_s as number));
    sentences.push(
      `The fan of ${specimen} starts up to ${write(latest, 0)} s after the load (${late.length} of ${fans.length} runs): the part is hotter until then.`,
    );
  }
  return sentences;
}
