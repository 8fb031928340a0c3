import { Amount, Id, ListOf, Maybe, OneOf, Text, Whole } from '#rules/rules';
import { CONTACTS } from './contacts';
import { sensorsOf } from './partSensors';

export const MOST_PARTS = 12;

/** A part of a rig under the same cooler: its size, its sensors and limit, and what lies on it. */
export class RigPart {
  @Text(1, 40, 'A part has a name of 1 to 40 characters.')
  name!: string;

  @Maybe(OneOf(Object.keys(CONTACTS), 'The contact of a part is a lid, a bare die, several dies or a row of parts.'))
  contact?: keyof typeof CONTACTS | null;

  @Maybe(Amount(0.5, 1000, 'A part is 0.5 to 1000 mm long.'))
  length_mm?: number | null;

  @Maybe(Amount(0.5, 1000, 'A part is 0.5 to 1000 mm wide.'))
  width_mm?: number | null;

  /** how many of this size */
  @Maybe(Whole(1, 64, 'There are 1 to 64 of a part.'))
  count?: number | null;

  @Maybe(Amount(30, 250, 'The limit of a part lies between 30 and 250 °C.'))
  limit_c?: number | null;

  /** names of its columns, parted by commas */
  @Maybe(Text(0, 200, 'The sensors of a part hold up to 200 characters.'))
  sensors?: string | null;

  /** of the power that is measured */
  @Maybe(Amount(0.1, 100, 'The share of the power lies between 0.1 and 100 %.'))
  share_pct?: number | null;

  /** what always lies on it; empty where it takes what is tested */
  @Maybe(Id())
  material_id?: number | null;

  @Maybe(Amount(0.5, 1000, 'A cut is 0.5 to 1000 mm long.'))
  cut_length_mm?: number | null;

  @Maybe(Amount(0.5, 1000, 'A cut is 0.5 to 1000 mm wide.'))
  cut_width_mm?: number | null;
}

export class RigParts {
  @Id('Say which version was changed.')
  base!: number;

  @ListOf(() => RigPart, MOST_PARTS, `A rig has up to ${MOST_PARTS} parts, each with its name.`)
  parts!: RigPart[];
}

/** What does not fit together in a list of parts, as a sentence; null where all does. */
export function partsProblem(parts: RigPart[]): string | null {
  const names = parts.map((p) => p.name.trim().toLowerCase());
  const twice = parts.find((p, i) => names.indexOf(p.name.trim().toLowerCase()) !== i);
  if (twice) return `${twice.name} is named twice; each part has its own name.`;
  const sensors = parts.flatMap((p) => sensorsOf(p).map((sensor) => ({ sensor, part: p.name })));
  const shared = sensors.find((s, i) => sensors.findIndex((o) => o.sensor === s.sensor) !== i);
  if (shared) return `The sensor ${shared.sensor} is listed at two parts; it belongs to one of them.`;
  const share = parts.reduce((sum, p) => sum + (p.share_pct ?? 0), 0);
  if (share > 100) return `The shares of the power add up to ${Number(share.toFixed(1))} %; they are at most 100 % together.`;
  const half = parts.find((p) => (p.length_mm == null) !== (p.width_mm == null) || (p.cut_length_mm == null) !== (p.cut_width_mm == null));
  if (half) return `${half.name} has a length without a width, or a width without a length.`;
  return null;
}
