import { write } from '#core/text/words';
import { amountFor, type DosePart, mixedParts, PATTERNS, type Pattern, usualPattern } from '#core/thermal/dose/dose';
import { cutProblems, nestSets, type PlacedCut, type Rectangle } from '#features/shelf/model/cuts';
import { type PrescribedAmount, prescribedFor, readRatio } from '#features/shelf/model/prescribed';
import type { RigPart } from '#features/shelf/model/rigParts';
import type { MaterialSheet, RigSheet } from '#features/shelf/model/sheets';
import type { AmountSchool, MaterialKind } from './stepTypes';

/** A material as it lies on a part. */
export interface LaidMaterial {
  name: string;
  kind: MaterialKind;
  sheet: MaterialSheet;
}

/** What one part of a mount takes. */
export interface PartAmount {
  /** empty where the rig has one contact */
  part: string;
  material: string;
  /** true where it is what the study tests */
  tested: boolean;
  /** such as "4 dots, 177 mg", or "8 pieces of 14 × 12 mm" */
  words: string;
  /** paste and the like, all of the part; null for sheets, and without a density */
  mass_mg: number | null;
  /** what is wrong with its cut, in sentences */
  problems: string[];
}

/** The cuts of a mount on one sheet of a material. */
export interface CutPlan {
  material: string;
  sheet: Rectangle;
  /** mounts that the sheet serves */
  sets: number;
  placed: PlacedCut[];
}

interface AmountSetting {
  /** what is tested */
  tested: LaidMaterial;
  rig: RigSheet;
  parts: RigPart[];
  /** materials that always lie on a part, by number */
  materials: Map<number, LaidMaterial>;
  amount?: AmountSchool;
}

const SHEETS: MaterialKind[] = ['pad', 'phase_change', 'graphite'];
const isSheet = ({ kind }: LaidMaterial): boolean => SHEETS.includes(kind) || kind === 'solder';
/** Bond line and waste taken where the sheet says nothing (method, §7). */
const BOND_LINE_UM = 45;
const WASTE = 0.15;
const CONTACT_ANGLE = 60;

const PATTERN_WORDS: Record<Pattern, string> = {
  dot: 'one dot',
  dots: 'dots in a grid',
  line: 'a line',
  cross: 'a cross',
  spread: 'spread to a film',
  film: 'a film',
  sheet: 'a sheet',
};

/** What each part takes of which material: the contact of the rig, or each of its parts. */
export function amountsOf({ tested, rig, parts, materials, amount }: AmountSetting): PartAmount[] {
  const whole: RigPart = {
    name: '',
    contact: rig.contact as RigPart['contact'],
    length_mm: rig.contact_length_mm,
    width_mm: rig.contact_width_mm,
  };
  return (parts.length > 0 ? parts : [whole]).map((p) => {
    const own = p.material_id == null ? undefined : materials.get(p.material_id);
    const material = own ?? tested;
    const laid = { part: p.name, material: material.name, tested: own === undefined };
    return isSheet(material)
      ? { ...laid, ...cutOf(p, material) }
      : { ...laid, ...doseOf(p, material, own ? undefined : amount), problems: [] };
  });
}

/** The cut of a part: its own, else the material's, else its size. */
const cutSize = (p: RigPart, sheet: MaterialSheet): Rectangle | null => {
  const [length, width] = [p.cut_length_mm ?? sheet.cut_length_mm ?? p.length_mm, p.cut_width_mm ?? sheet.cut_width_mm ?? p.width_mm];
  return length == null || width == null ? null : { length, width };
};
const wholeSheet = ({ sheet_length_mm: length, sheet_width_mm: width }: MaterialSheet): Rectangle | null =>
  length == null || width == null ? null : { length, width };

function cutOf(p: RigPart, { sheet }: LaidMaterial): Pick<PartAmount, 'words' | 'mass_mg' | 'problems'> {
  const cut = cutSize(p, sheet);
  if (!cut) return { words: 'cut to its size', mass_mg: null, problems: [] };
  const part = p.length_mm != null && p.width_mm != null ? { length: p.length_mm, width: p.width_mm } : null;
  const count = p.count ?? 1;
  const thick = sheet.thickness_mm == null ? '' : `, ${sheet.thickness_mm} mm thick`;
  return {
    words: `${count === 1 ? 'a piece' : `${count} pieces`} of ${cut.length} × ${cut.width} mm${thick}`,
    mass_mg: null,
    problems: cutProblems(p.name || 'the part', cut, part, wholeSheet(sheet)),
  };
}

function doseOf(p: RigPart, { kind, sheet }: LaidMaterial, school?: AmountSchool): Pick<PartAmount, 'words' | 'mass_mg'> {
  if (p.length_mm == null || p.width_mm == null)
    return { words: 'its size is not on the rig’s sheet, so no amount can be computed', mass_mg: null };
  const part: DosePart = { kind: p.contact ?? 'lid', length_mm: p.length_mm, width_mm: p.width_mm, count: p.count ?? 1 };
  const density = sheet.density_g_per_cm3 ?? null;
  const prescribed = prescribedFor(sheet.amounts, p.length_mm * p.width_mm);
  if (prescribed) return prescribedWords(prescribed, part.count, density);
  const chosen = school && school !== 'by_lid' && (PATTERNS as readonly string[]).includes(school) ? (school as Pattern) : null;
  const pattern = chosen ?? usualPattern(part, kind === 'liquid_metal' || kind === 'epoxy' || kind === 'putty' ? kind : 'paste').pattern;
  const result = amountFor({
    ...{ part, pattern, bond_line_um: sheet.bond_line_um ?? BOND_LINE_UM, waste: WASTE },
    ...{ density_g_per_cm3: density ?? 1, contact_angle_deg: CONTACT_ANGLE },
  });
  const dots = result.shapes.filter((s) => s.kind === 'dot');
  const shape =
    dots.length > 0
      ? `${dots.length === 1 ? 'one dot' : `${dots.length} dots`} of ${write(dots[0].diameter, 1)} mm`
      : PATTERN_WORDS[pattern];
  const each = part.count > 1 ? ` on each of ${part.count}` : '';
  const amount =
    density === null
      ? `${write(result.volume_mm3 / 1000, 3)} ml`
      : `${write(result.mass_mg, 0)} mg (${write(result.volume_mm3 / 1000, 3)} ml)`;
  return { words: `${shape}${each}, ${amount} in all`, mass_mg: density === null ? null : result.mass_mg };
}

function prescribedWords(a: PrescribedAmount, count: number, density: number | null): Pick<PartAmount, 'words' | 'mass_mg'> {
  const mass = a.mass_mg ?? (a.volume_ml !== null && density !== null ? 1000 * a.volume_ml * density : null);
  const said = a.mass_mg !== null ? `${write(a.mass_mg, 0)} mg` : a.volume_ml !== null ? `${a.volume_ml} ml` : null;
  const dots = a.dots === null ? null : `${a.dots === 1 ? 'one dot' : `${a.dots} dots`}${a.dot_mm === null ? '' : ` of ${a.dot_mm} mm`}`;
  const each = count > 1 ? ` on each of ${count}` : '';
  return {
    words: `${[dots, said].filter(Boolean).join(', ')}${each}, as its maker prescribes`,
    mass_mg: mass === null ? null : mass * count,
  };
}

/** How the cuts of a mount lie on a sheet of each material that is cut, where its size is known. */
export function cutPlans({ tested, rig, parts, materials }: AmountSetting): CutPlan[] {
  const whole: RigPart = { name: '', length_mm: rig.contact_length_mm, width_mm: rig.contact_width_mm };
  const pieces = new Map<string, { laid: LaidMaterial; cuts: Rectangle[] }>();
  for (const p of parts.length > 0 ? parts : [whole]) {
    const laid = (p.material_id == null ? undefined : materials.get(p.material_id)) ?? tested;
    const cut = isSheet(laid) ? cutSize(p, laid.sheet) : null;
    if (!cut) continue;
    const known = pieces.get(laid.name) ?? { laid, cuts: [] };
    known.cuts.push(...Array.from({ length: p.count ?? 1 }, () => cut));
    pieces.set(laid.name, known);
  }
  return [...pieces.values()].flatMap(({ laid, cuts }) => {
    const sheet = wholeSheet(laid.sheet);
    return sheet ? [{ material: laid.name, sheet, ...nestSets(sheet, cuts) }] : [];
  });
}

/** What of B goes with an amount of A by the ratio of a mix, mg; null where the ratio is not known. */
export function partnerOf(ratio: string | undefined, a_mg: number): number | null {
  const parts = readRatio(ratio);
  return parts ? (a_mg * parts.b) / parts.a : null;
}

/** Both parts of a mix that fill an amount, in words: "100 mg of A and 10 mg of B". */
export function mixWords(ratio: string | undefined, mass_mg: number | null): string | null {
  const parts = readRatio(ratio);
  if (!parts || mass_mg === null) return null;
  const { a_mg, b_mg } = mixedParts(mass_mg, parts.a, parts.b);
  return `For ${write(mass_mg, 0)} mg: ${write(a_mg, 0)} mg of A and ${write(b_mg, b_mg < 10 ? 1 : 0)} mg of B.`;
}
