import type { Client } from '#app/database/pool';
import { SECTIONS, type SectionKey, type SheetValues } from '#features/shelf/model/sections';
import { insertSheet, listSheets } from '#features/shelf/store/sheets';
import { check } from '#rules/validation';
import SHELF from './shelf.json' with { type: 'json' };

/** Seconds of the simulated benches in one second. */
export const DEMO_SPEED = SHELF.rigs['North bench'].time_scale;

/** Sections in the order in which their sheets name each other. */
const ORDER = ['materials', 'fans', 'instruments', 'coolers', 'rigs'] as const;

/** Fields that name other sheets. */
const NAMING = ['fans', 'instruments', 'cooler_id'];

/**
 * Puts the demo's sheets on the shelf, where they are not there yet. Prices are of the spring before the study.
 * @returns the number of each sheet by its name
 */
export async function stockShelf(db: Client): Promise<Record<string, number>> {
  const ids: Record<string, number> = {};
  const numbered = (value: unknown) => (Array.isArray(value) ? value.map((name) => ids[name]) : ids[String(value)]);
  for (const section of ORDER) {
    for (const [name, sheet] of Object.entries(SHELF[section])) {
      const fields = Object.entries(sheet).map(([key, value]) => [key, NAMING.includes(key) ? numbered(value) : value]);
      await insertSheet(db, section, name, check(SECTIONS[section].sheet as new () => SheetValues, Object.fromEntries(fields)));
    }
    for (const s of await listSheets(db, section)) if (s.name in SHELF[section]) ids[s.name] = s.id;
  }
  return ids;
}

/** The demo's sheets by section, those that name others first. */
export const SHELF_NAMES: [SectionKey, string[]][] = [...ORDER].reverse().map((section) => [section, Object.keys(SHELF[section])]);
