import { list, write } from '#core/text/words';
import { CONTACTS, type Contact } from '#features/shelf/model/contacts';
import { classesApart, PRESSURE_CLASSES, type PressureClass } from './pressure';
import type { ShownDifference } from './rankingAnswer';

/** A part that nobody measured: what a reader has at home. */
export interface ReadersPart {
  power_w: number;
  area_mm2: number;
  contact: Contact;
  /** null where the reader does not know it */
  pressure: PressureClass | null;
}

/** What set-ups were measured with. */
export interface MeasuredRange {
  area_mm2: number | null;
  contact: Contact | null;
  pressure: PressureClass | null;
}

/** How far beyond what was measured a part may lie, as a factor. */
const REACH = 3;

/** Kelvin on the part per mm²·K/W. Source: method §8, ΔT = P·Δr/A. */
export const kelvinPer = ({ power_w, area_mm2 }: Pick<ReadersPart, 'power_w' | 'area_mm2'>): number => power_w / area_mm2;

/** Why nothing is said of a part, as a sentence with what would be right; null where something is. */
export function partProblem(part: Pick<ReadersPart, 'area_mm2' | 'pressure'>, measured: MeasuredRange[]): string | null {
  const areas = measured.flatMap((m) => m.area_mm2 ?? []);
  if (areas.length === 0) return 'No set-up states the area of its contact.';
  const [low, high] = [Math.min(...areas) / REACH, Math.max(...areas) * REACH];
  if (part.area_mm2 < low || part.area_mm2 > high)
    return `${write(part.area_mm2, 0)} mm² lies outside what the set-ups measured allow: ${write(low, 0)} to ${write(high, 0)} mm², a factor of ${REACH} around theirs. How a material spreads on so different an area was not measured.`;
  const pressures = measured.flatMap((m) => m.pressure ?? []);
  if (part.pressure !== null && pressures.length > 0 && pressures.every((p) => classesApart(p, part.pressure as PressureClass) > 1))
    return `${PRESSURE_CLASSES[part.pressure].name} was not measured, nor anything within a factor of ${REACH} of it: the set-ups press with ${list([...new Set(pressures)].map((p) => PRESSURE_CLASSES[p].name))}. Bond lines differ with pressure.`;
  return null;
}

/** What to keep in mind where something is said of a part. */
export function partCautions(part: ReadersPart, measured: MeasuredRange[]): string[] {
  const contacts = new Set(measured.flatMap((m) => m.contact ?? []));
  const cautions: string[] = [];
  if (contacts.size > 0 && !contacts.has(part.contact))
    cautions.push(
      `Measured on ${list([...contacts].map((c) => CONTACTS[c].toLowerCase()))} only: a bare die and a lid differ in flatness and in how the heat spreads.`,
    );
  else if (contacts.size === 0) cautions.push('The rigs’ sheets do not say whether the contact is a lid or a bare die; the two differ.');
  if (measured.every((m) => m.pressure === null))
    cautions.push('No rig states its contact pressure: this holds for a cooler that presses about as those of the set-ups do.');
  else if (part.pressure === null) cautions.push('The pressure on the part is not given: this holds where it is like that of the set-ups.');
  return cautions;
}

/** Digits that an interval deserves. */
export const kelvinDigits = (spread_k: number): number => (spread_k < 0.2 ? 2 : 1);

/**
 * The expected difference on a part in a sentence.
 * @param told a minus b, mm²·K/W
 */
export function partSentence(
  part: Pick<ReadersPart, 'power_w' | 'area_mm2'>,
  told: Pick<ShownDifference, 'difference' | 'shown95'>,
  a: string,
  b: string,
): string {
  const per = kelvinPer(part);
  const delta = per * told.difference;
  const shown = told.shown95?.map((v) => per * v) as [number, number] | undefined;
  const digits = kelvinDigits(shown ? (shown[1] - shown[0]) / 2 : Math.abs(delta));
  const on = `On ${write(part.power_w, part.power_w < 10 ? 1 : 0)} W over ${write(part.area_mm2, 0)} mm²`;
  const way = (v: number) => (v < 0 ? 'cooler' : 'warmer');
  const says = `${on} ${a} would run ${write(Math.abs(delta), digits)} K ${way(delta)} than ${b}`;
  if (!shown) return `${says}; how far another set-up would differ cannot be said yet.`;
  const [near, far] = delta < 0 ? [-shown[1], -shown[0]] : shown;
  if (near >= 0) return `${says}, ${write(near, digits)} to ${write(far, digits)} K in a set-up like these.`;
  const opposite = way(-delta);
  return `${says}, between ${write(-near, digits)} K ${opposite} and ${write(far, digits)} K ${way(delta)} in a set-up like these.`;
}
