import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import type { Imprint, UnsureReason } from '#core/image/types';
import { write } from '#core/text/number';

export const MOST_PHOTO_BYTES = 30 * 1024 * 1024;

export const FACES = { part: 'Part', base: 'Base of the cooler' } as const;
export type Face = keyof typeof FACES;

/** A point of the photograph, as shares of its width and height. */
class PhotoPoint {
  @IsNumber()
  @Min(0, { message: 'A corner lies outside the photograph.' })
  @Max(1, { message: 'A corner lies outside the photograph.' })
  x!: number;

  @IsNumber()
  @Min(0, { message: 'A corner lies outside the photograph.' })
  @Max(1, { message: 'A corner lies outside the photograph.' })
  y!: number;
}

/** How a print was read from its photograph. */
export class ImprintReading {
  @ValidateNested({ each: true })
  @Type(() => PhotoPoint)
  @ArrayMinSize(4, { message: 'A print has four corners.' })
  @ArrayMaxSize(4, { message: 'A print has four corners.' })
  corners!: PhotoPoint[];

  @IsNumber()
  @Min(1, { message: 'The length should be between 1 and 1000 mm.' })
  @Max(1000, { message: 'The length should be between 1 and 1000 mm.' })
  length_mm!: number;

  @IsNumber()
  @Min(1, { message: 'The width should be between 1 and 1000 mm.' })
  @Max(1000, { message: 'The width should be between 1 and 1000 mm.' })
  width_mm!: number;

  @IsBoolean()
  mirrored!: boolean;

  @IsBoolean()
  face_goes_on!: boolean;

  @IsBoolean()
  swapped!: boolean;

  /** null: half-way between the tones */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(1)
  threshold!: number | null;
}

const share = (what: string) => ({ message: `${what} should be a share from 0 to 1.` });

/** What a print shows, as it is kept. */
export class ImprintFigures {
  @IsNumber()
  @Min(0, share('The cover'))
  @Max(1, share('The cover'))
  cover!: number;

  @IsNumber()
  @Min(0, share('The lowest cover'))
  @Max(1, share('The lowest cover'))
  cover_low!: number;

  @IsNumber()
  @Min(0, share('The highest cover'))
  @Max(1, share('The highest cover'))
  cover_high!: number;

  @IsNumber()
  @Min(0, share('The voids'))
  @Max(1, share('The voids'))
  voids!: number;

  @IsInt()
  @Min(0)
  @Max(100_000)
  void_count!: number;

  @IsNumber()
  @Min(-1000)
  @Max(1000)
  offset_x_mm!: number;

  @IsNumber()
  @Min(-1000)
  @Max(1000)
  offset_y_mm!: number;

  /** null where it could not be told */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(10)
  squeeze_out!: number | null;

  @IsNumber()
  @Min(0, share('The glare'))
  @Max(1, share('The glare'))
  glare!: number;

  /** corners that are thin or thick, in words */
  @IsString()
  @MaxLength(200)
  corners!: string;

  /** why the cover is no more than a range, in words; empty where it is sure. Prints that were read before this was told have none */
  @IsOptional()
  @IsString()
  @MaxLength(400)
  unsure?: string;
}

/** A photograph that is saved into a mount. */
export class PhotographAbout {
  @IsOptional()
  @IsString({ message: 'Initials are a text.' })
  @MaxLength(20, { message: 'Initials hold up to 20 characters.' })
  who?: string;

  @IsOptional()
  @IsString({ message: 'A caption is a text.' })
  @MaxLength(200, { message: 'A caption holds up to 200 characters.' })
  caption?: string;

  /** of a print */
  @IsOptional()
  @IsIn(Object.keys(FACES), { message: 'The face is part or base.' })
  face?: Face;

  @IsOptional()
  @ValidateNested()
  @Type(() => ImprintReading)
  reading?: ImprintReading;

  @IsOptional()
  @ValidateNested()
  @Type(() => ImprintFigures)
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
  tones_differ: 'lightness and colour tell different covers',
  soft_edges: 'the edges are soft',
  overexposed: 'a part is overexposed',
};

/** Why the cover is no more than a range, in words; empty where it is sure. */
export function unsureWords({ unsure }: Pick<Imprint, 'unsure'>): string {
  return unsure.map((reason) => UNSURE[reason]).join(', ');
}

/** The cover as it is told: a figure where it is sure, a range where it is not, in percent. */
export function coverWords(
  { cover, cover_low, cover_high, unsure }: Pick<ImprintFigures, 'cover' | 'cover_low' | 'cover_high' | 'unsure'>,
  digits = 1,
): string {
  return unsure ? `${write(100 * cover_low, 0)} to ${write(100 * cover_high, 0)} %` : `${write(100 * cover, digits)} %`;
}

/** Corners that are not even, in one sentence; empty where all are. */
export function cornerWords({ corners }: Pick<Imprint, 'corners'>): string {
  return (['thin', 'thick'] as const)
    .map((state) => ({ state, places: corners.filter((c) => c.state === state).map((c) => c.place) }))
    .filter(({ places }) => places.length > 0)
    .map(({ state, places }) => (places.length === 4 ? `all ${state}` : `${state}: ${places.join(', ')}`))
    .join('; ');
}
