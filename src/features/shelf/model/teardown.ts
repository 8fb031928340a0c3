import { plural } from '#core/text/words';
import { Amount, Id, ListOf, Maybe, Text, Whole } from '#rules/rules';

const MOST_STEPS = 60;

/** One thing that is undone to open a device; read backwards it is one thing to put back. */
export class TeardownStep {
  @Text(1, 200, 'What is removed or opened takes 1 to 200 characters.')
  what!: string;

  @Maybe(Whole(0, 99, 'Screws are counted from 0 to 99.'))
  screws?: number | null;

  @Maybe(Amount(0.5, 300, 'A screw is 0.5 to 300 mm long.'))
  screw_mm?: number | null;

  /** where they are, or what else would be mistaken */
  @Maybe(Text(0, 120, 'The place holds up to 120 characters.'))
  place?: string;

  @Maybe(Text(0, 120, 'Connectors hold up to 120 characters.'))
  connectors?: string;

  @Maybe(Text(0, 80, 'The tool holds up to 80 characters.'))
  tool?: string;

  @Maybe(Amount(0, 600, 'A step takes 0 to 600 minutes.'))
  minutes?: number | null;

  /** number of its photograph */
  @Maybe(Id())
  photograph?: number | null;
}

export class Teardown {
  @Id('Say which version was changed.')
  base!: number;

  @ListOf(() => TeardownStep, MOST_STEPS, `A device is taken apart in a list of up to ${MOST_STEPS} steps.`)
  steps!: TeardownStep[];
}

/** Minutes to take a device apart by its list; null where no step tells them. */
export function teardownMinutes(steps: TeardownStep[]): number | null {
  const told = steps.flatMap((s) => s.minutes ?? []);
  return told.length === 0 ? null : told.reduce((sum, m) => sum + m, 0);
}

/** Screws of a step in words, such as "4 screws, 8 mm, under the label"; empty where there are none. */
export const screwWords = ({ screws, screw_mm, place }: TeardownStep): string =>
  [...(screws ? [plural(screws, 'screw')] : []), ...(screws && screw_mm ? [`${screw_mm} mm`] : []), ...(place ? [place] : [])].join(', ');
