import type { Imprint, UnsureReason } from '#core/image/types';
import { write } from '#core/text/words';
import { Amount, ListOf, Maybe, Nested, OneOf, Text, Whole, YesNo } from '#rules/rules';

export const MOST_PHOTO_BYTES = 30 * 1024 * 1024;

export const FACES = { part: 'Part', base: 'Base of the cooler' } as const;
export type Face = keyof typeof FACES;

/** A point of the photograph, as shares of its width and height. */
export class PhotoPoint {
  @Amount(0, 1, 'A corner lies outside the photograph.')
  x!: number;

  @Amount(0, 1, 'A corner lies outside the photograph.')
  y!: number;
}

/** How a print was read from its photograph. */
export class ImprintReading {
  @ListOf(() => PhotoPoint, 4, 'An imprint has four corners.', 4)
  corners!: PhotoPoint[];

  @Amount(1, 1000, 'The length should be between 1 and 1000 mm.')
  length_mm!: number;

  @Amount(1, 1000, 'The width should be between 1 and 1000 mm.')
  width_mm!: number;

  @YesNo()
  mirrored!: boolean;

  @YesNo()
  face_goes_on!: boolean;

  @YesNo()
  swapped!: boolean;

  /** null: half-way between the tones */
  @Maybe(Amount(0, 1))
  threshold!: number | null;
}

const share = (what: string) => `${what} should be a share from 0 to 1.`;

/** What a print shows, as it is kept. */
export class ImprintFigures {
  @Amount(0, 1, share('The cover'))
  cover!: number;

  @Amount(0, 1, share('The lowest cover'))
  cover_low!: number;

  @Amount(0, 1, share('The highest cover'))
  cover_high!: number;

  @Amount(0, 1, share('The voids'))
  voids!: number;

  @Whole(0, 100_000)
  void_count!: number;

  @Amount(-1000, 1000)
  offset_x_mm!: number;

  @Amount(-1000, 1000)
  offset_y_mm!: number;

  /** null where it could not be told */
  @Maybe(Amount(0, 10))
  squeeze_out!: number | null;

  @Amount(0, 1, share('The glare'))
  glare!: number;

  /** corners that are thin or thick, in words */
  @Text(0, 200)
  corners!: string;

  /** why the cover is no more than a range, in words; empty where it is sure. Prints that were read before this was told have none */
  @Maybe(Text(0, 400))
  unsure?: string;
}

/** A photograph that is saved into a mount. */
export class PhotographAbout {
  @Maybe(Text(0, 20, 'Initials hold up to 20 characters.'))
  who?: string;

  @Maybe(Text(0, 200, 'A caption holds up to 200 characters.'))
  caption?: string;

  /** of a print */
  @Maybe(OneOf(Object.keys(FACES), 'The face is part or base.'))
  face?: Face;

  @Maybe(Nested(() => ImprintReading))
  reading?: ImprintReading;

  @Maybe(Nested(() => ImprintFigures))
  figures?: ImprintFigures;
}

/** The figures of a measured print that are kept. */
export function imprintFigures(print: Imprint): ImprintFigures {
  const { cover, cover_range, voids, offset, squeeze_out, glare } = print;
  return {
    ...{ cover, cover_low: cover_range[0], cover_high: cover_range[1], voids: voids.share, void_count: voids.count },
    ...{
      offset_x_mm: offset.x_mm,
      offset_y_mm: offset.y_mm,
      squeeze_out: squeeze_out?.share ?? null,
      glare,
      corners: cornerWords(print),
      unsure: unsureWords(print),
    },
  };
}

const UNSURE: Record<UnsureReason, string> = {
  tones_differ: 'lightness and colour give different coverage',
  soft_edges: 'the edges are soft',
  overexposed: 'a part is overexposed',
};

/** Why the cover is no more than a range, in words; empty where it is sure. */
export const unsureWords = ({ unsure }: Pick<Imprint, 'unsure'>): string => unsure.map((reason) => UNSURE[reason]).join(', ');

/** The cover as it is told: a figure where it is sure, a range where it is not, in percent. */
export const coverWords = (
  { cover, cover_low, cover_high, unsure }: Pick<ImprintFigures, 'cover' | 'cover_low' | 'cover_high' | 'unsure'>,
  digits = 1,
): string => (unsure ? `${write(100 * cover_low, 0)} to ${write(100 * cover_high, 0)} %` : `${write(100 * cover, digits)} %`);

/** Corners that are not even, in one sentence; empty where all are. */
export const cornerWords = ({ corners }: Pick<Imprint, 'corners'>): string =>
  (['thin', 'thick'] as const)
    .map((state) => ({ state, places: corners.filter((c) => c.state === state).map((c) => c.place) }))
    .filter(({ places }) => places.length > 0)
    .map(({ state, places }) => (places.length === 4 ? `all ${state}` : `${state}: ${places.join(', ')}`))
    .join('; ');
