import { database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { Finding } from '#core/compare/types';
import { calendarDay } from '#core/units/calendarDay';
import { liveProblem } from '#features/shelf/model/liveSheet';
import { SECTIONS, type SectionKey, type SheetValues, type StoredSheet, withArticle } from '#features/shelf/model/sections';
import { readSheets, writeSheets } from '#features/shelf/model/sheetCsv';
import { sheetFindings } from '#features/shelf/model/sheetFindings';
import type { InstrumentSheet, MaterialSheet } from '#features/shelf/model/sheets';
import { type Stock, stockOf } from '#features/shelf/model/stock';
import { copyBuild } from '#features/shelf/store/rigs';
import {
  carryName,
  getSheet,
  insertSheet,
  isNamed,
  listFirstSheets,
  listSheets,
  setArchived,
  updateSheet,
} from '#features/shelf/store/sheets';
import { type SheetUse, sheetUses } from '#features/shelf/store/uses';
import { check } from '#rules/validation';

export interface ShelfRow extends StoredSheet {
  mounts: number;
  studies: number;
  findings: Finding[];
  /** of materials only */
  stock: Stock | null;
}

/** The sheets of a section with their use and findings. */
export async function listShelf(section: SectionKey): Promise<ShelfRow[]> {
  const db = database();
  const [sheets, uses] = await Promise.all([listSheets(db, section), sheetUses(db, section)]);
  return withUses(section, sheets, uses);
}

/**
 * The first sheets of a section by name, as a page shows them at once.
 * @returns whether there are more
 */
export async function firstOfShelf(section: SectionKey, most: number): Promise<{ rows: ShelfRow[]; more: boolean }> {
  const db = database();
  const sheets = await listFirstSheets(db, section, most);
  const shown = sheets.slice(0, most);
  const uses = await sheetUses(
    db,
    section,
    shown.map((s) => s.id),
  );
  return { rows: withUses(section, shown, uses), more: sheets.length > most };
}

function withUses(section: SectionKey, sheets: StoredSheet[], uses: SheetUse[]): ShelfRow[] {
  const of = new Map<number, SheetUse[]>();
  for (const u of uses) of.set(u.sheet_id, [...(of.get(u.sheet_id) ?? []), u]);
  return sheets.map((s) => withUse(section, s, of.get(s.id) ?? []));
}

function withUse(section: SectionKey, sheet: StoredSheet, uses: SheetUse[]): ShelfRow {
  const mounts = uses.reduce((sum, u) => sum + u.mounts, 0);
  return {
    ...sheet,
    mounts,
    studies: new Set(uses.map((u) => u.study_id)).size,
    findings: sheetFindings(section, sheet.name, sheet.sheet, today()),
    stock: section === 'materials' ? stockOf(sheet.sheet, takenBy(sheet.sheet, uses)) : null,
  };
}

/** What the mounts so far took of a material: pieces of one that is cut, amounts for a mount of all others. */
export const takenBy = ({ pack_unit }: MaterialSheet, uses: SheetUse[]): number =>
  uses.reduce((sum, u) => sum + (pack_unit === 'sheets' ? u.pieces : u.mounts), 0);

/** Today as a calendar day of this machine. */
export const today = (): string => calendarDay(Date.now() / 1000, true);

export interface SheetView {
  row: ShelfRow;
  uses: SheetUse[];
  /** names of the sheets it may refer to, by section */
  names: Partial<Record<SectionKey, { id: number; name: string; archived: boolean }[]>>;
  /** true where it may be archived but not deleted */
  named: boolean;
}

/** One sheet with its history. */
export async function sheetView(section: SectionKey, id: number): Promise<SheetView> {
  const db = database();
  const sheet = await getSheet(db, section, id);
  if (!sheet) throw new Refusal(`There is no ${SECTIONS[section].one} ${id} on the shelf.`, 404);
  const [uses, names, named] = await Promise.all([sheetUses(db, section, [id]), namesFor(section), isNamed(db, section, id)]);
  return { row: withUse(section, sheet, uses), uses, names, named };
}

/** Names of the sheets that those of a section may refer to. */
export async function namesFor(section: SectionKey): Promise<SheetView['names']> {
  const wanted: Partial<Record<SectionKey, SectionKey[]>> = { coolers: ['fans'], rigs: ['coolers', 'instruments'] };
  const lists = await Promise.all(
    (wanted[section] ?? []).map(
      async (other) => [other, (await listSheets(database(), other)).map(({ id, name, archived }) => ({ id, name, archived }))] as const,
    ),
  );
  return Object.fromEntries(lists);
}

/**
 * Checks what is written on a sheet; empty fields are left out.
 * @throws Refusal or RuleError in a sentence where it breaks a rule
 */
export function checkedSheet(section: SectionKey, name: unknown, values: unknown): { name: string; sheet: SheetValues } {
  const plain = typeof name === 'string' ? name.trim() : '';
  if (plain.length < 1 || plain.length > 80) throw new Refusal(`The ${SECTIONS[section].one} needs a name of 1 to 80 characters.`);
  const sheet = check(SECTIONS[section].sheet as new () => object, values ?? {}) as SheetValues;
  const wrong = section === 'instruments' ? liveProblem(sheet as InstrumentSheet) : null;
  if (wrong) throw new Refusal(wrong.problem, 400, { field: wrong.field });
  return { name: plain, sheet: Object.fromEntries(Object.entries(sheet).filter(([, v]) => v !== null && v !== undefined && v !== '')) };
}

const taken = (section: SectionKey, name: string) =>
  new Refusal(`There is already ${withArticle(SECTIONS[section].one)} "${name}" on the shelf; choose another name.`, 409);

/**
 * Puts a sheet on the shelf; gives its number.
 * @throws Refusal 409 where the name is taken, RuleError where it breaks a rule
 */
export async function createSheet(section: SectionKey, given: { name?: unknown; sheet?: unknown }): Promise<number> {
  const { name, sheet } = checkedSheet(section, given.name, given.sheet);
  const id = await insertSheet(database(), section, name, sheet);
  if (id === null) throw taken(section, name);
  return id;
}

/** Saves a sheet as it was read at a version; where somebody else saved it since, theirs is given back and nothing is overwritten. */
export async function saveSheet(
  section: SectionKey,
  id: number,
  given: { name?: unknown; sheet?: unknown; version?: unknown },
): Promise<StoredSheet> {
  const { name, sheet } = checkedSheet(section, given.name, given.sheet);
  if (!Number.isInteger(given.version)) throw new Refusal('Say which version of the sheet was changed.');
  const db = database();
  const before = await getSheet(db, section, id);
  const saved = await updateSheet(db, section, id, Number(given.version), name, sheet).catch((error: { code?: string }) => {
    if (error.code === '23505') throw taken(section, name);
    throw error;
  });
  const now = await getSheet(db, section, id);
  if (!now) throw new Refusal(`There is no ${SECTIONS[section].one} ${id} on the shelf any more.`, 404);
  if (saved && before && before.name !== name) await carryName(db, section, id, before.name, name);
  if (!saved)
    throw new Refusal(
      `Somebody else saved ${now.name} meanwhile. Their values are shown next to your changes; save again to keep yours.`,
      409,
      { theirs: now },
    );
  return now;
}

/** A copy under a new name, to be changed. */
export async function duplicateSheet(section: SectionKey, id: number): Promise<number> {
  const db = database();
  const sheet = await getSheet(db, section, id);
  if (!sheet) throw new Refusal(`There is no ${SECTIONS[section].one} ${id} on the shelf.`, 404);
  for (let i = 2; i < 100; i++) {
    const copy = await insertSheet(db, section, `${sheet.name.slice(0, 74)} (${i})`, sheet.sheet);
    if (copy === null) continue;
    if (section === 'rigs') await copyBuild(db, id, copy);
    return copy;
  }
  throw new Refusal(`There are already many copies of ${sheet.name}; rename some of them first.`, 409);
}

/**
 * Archives a sheet or brings it back.
 * @throws Refusal 404 where there is none
 */
export async function archiveSheet(section: SectionKey, id: number, archived: boolean): Promise<void> {
  if (!(await setArchived(database(), section, id, archived)))
    throw new Refusal(`There is no ${SECTIONS[section].one} ${id} on the shelf.`, 404);
}

/** A section of the shelf as CSV. */
export const exportShelf = async (section: SectionKey): Promise<string> =>
  writeSheets(
    section,
    (await listSheets(database(), section)).filter((s) => !s.archived),
  );

/** Takes the sheets of a file: new ones are added, those with a known name get the file's fields over their own. All or none. */
export async function importShelf(section: SectionKey, text: string): Promise<{ added: number; changed: number }> {
  const { rows, problems } = readSheets(section, text);
  if (problems.length > 0) throw new Refusal(problems.join(' '), 400, { problems });
  return transaction(async (client) => {
    const known = new Map((await listSheets(client, section)).map((s) => [s.name, s]));
    let added = 0;
    for (const { name, sheet } of rows) {
      const old = known.get(name);
      if (!old) {
        await insertSheet(client, section, name, sheet);
        added++;
      } else if (!(await updateSheet(client, section, old.id, old.version, name, { ...old.sheet, ...sheet })))
        throw new Refusal(`Somebody else saved ${name} meanwhile; nothing was imported. Import the file again.`, 409);
    }
    return { added, changed: rows.length - added };
  });
}
