import { type FieldSpec, fieldsOf } from '#rules/fields';
import { CoolerSheet, FanSheet, InstrumentSheet, MaterialSheet, RigSheet } from './sheets';

/** Sheets of a section that are drawn at first. */
export const FIRST_SHEETS = 60;

/** The sections of the shelf; the key is its address and the name of its table. */
export const SECTIONS = {
  materials: {
    name: 'Materials',
    one: 'material',
    sheet: MaterialSheet,
    empty: 'Pastes, pads, sheets and metals that go between part and cooler.',
  },
  coolers: {
    name: 'Coolers',
    one: 'cooler',
    sheet: CoolerSheet,
    empty: 'Towers, loops, modules and plates, with their base and their fans.',
  },
  fans: { name: 'Fans', one: 'fan', sheet: FanSheet, empty: 'Fans, as they are swapped between coolers.' },
  rigs: {
    name: 'Rigs',
    one: 'rig',
    sheet: RigSheet,
    empty: 'Heat sources with their sensors, limits and surroundings: one sheet per unit.',
  },
  instruments: {
    name: 'Instruments',
    one: 'instrument',
    sheet: InstrumentSheet,
    empty: 'Thermometers, meters and scales, with the date of their calibration.',
  },
} as const;

export type SectionKey = keyof typeof SECTIONS;
export const SECTION_KEYS = Object.keys(SECTIONS) as SectionKey[];

export const isSection = (text: string | undefined): text is SectionKey => text !== undefined && Object.hasOwn(SECTIONS, text);

export const sectionFields = (section: SectionKey): FieldSpec[] => fieldsOf(SECTIONS[section].sheet as new () => object);

/** A material, an instrument. */
export const withArticle = (one: string): string => `${/^[aeiou]/.test(one) ? 'an' : 'a'} ${one}`;

/** What a sheet holds, by field. */
export type SheetValues = Record<string, string | number | boolean | number[] | null | undefined>;

/** A sheet as it is stored. */
export interface StoredSheet {
  id: number;
  name: string;
  sheet: SheetValues;
  version: number;
  archived: boolean;
}
