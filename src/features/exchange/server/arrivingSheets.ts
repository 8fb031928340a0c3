import { isDeepStrictEqual } from 'node:util';
import type { Client } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { ARRIVING_SECTIONS, type ArrivingSheet, type Way } from '#features/exchange/model/arrival';
import type { PackagedSheet, StudyDocument } from '#features/exchange/model/studyDocument';
import { type Numbers, reserveNumbers } from '#features/exchange/store/numbers';
import { type RigPart, RigParts } from '#features/shelf/model/rigParts';
import { type SectionKey, type SheetValues, type StoredSheet, sectionFields } from '#features/shelf/model/sections';
import { Teardown, type TeardownStep } from '#features/shelf/model/teardown';
import { checkedSheet } from '#features/shelf/server/sheets';
import { listRigParts, listTeardowns, setBuild } from '#features/shelf/store/rigs';
import { insertNumberedSheet, listSheets, updateSheet } from '#features/shelf/store/sheets';
import { check } from '#rules/validation';

/** Fields that name other sheets by their numbers, which differ from place to place. */
const REFERENCES = new Set(['fans', 'cooler_id', 'instruments']);
const MOST_NAME = 80;

type Arriving = PackagedSheet & { parts?: unknown[]; teardown?: unknown[] };

export const sheetKey = (section: SectionKey, id: number): string => `${section}/${id}`;

/** The sheets of a package beside those here that go by their names. */
export async function arrivingSheets(db: Client, shelf: StudyDocument['shelf']): Promise<ArrivingSheet[]> {
  const found: ArrivingSheet[] = [];
  for (const section of ARRIVING_SECTIONS) {
    if (shelf[section].length === 0) continue;
    const here = await listSheets(db, section);
    const builds = section === 'rigs' ? await listBuilds(db) : () => ({});
    for (const sheet of shelf[section]) found.push(besideMine(section, sheet, here, builds));
  }
  return found;
}

type Build = Pick<Arriving, 'parts' | 'teardown'>;

/** Parts and take-apart lists of the rigs here. */
async function listBuilds(db: Client): Promise<(id: number) => Build> {
  const [parts, teardowns] = [await listRigParts(db), await listTeardowns(db)];
  return (id) => ({ parts: parts.get(id), teardown: teardowns.get(id) });
}

function besideMine(section: SectionKey, sheet: Arriving, here: StoredSheet[], builds: (id: number) => Build): ArrivingSheet {
  const own = here.find((h) => h.name === sheet.name) ?? here.find((h) => h.name.toLowerCase() === sheet.name.toLowerCase());
  const differs = own ? [...differingFields(section, own.sheet, sheet.sheet as SheetValues), ...differingBuild(builds(own.id), sheet)] : [];
  return {
    ...{ key: sheetKey(section, sheet.id), section, name: sheet.name },
    mine: own ? { id: own.id, name: own.name, archived: own.archived, differs } : null,
    // a material or a cooler of one name is the same product; a rig or an instrument of another lab is another thing
    way: differs.length === 0 || section === 'materials' || section === 'coolers' || section === 'fans' ? 'mine' : 'both',
  };
}

/** Labels of the fields in which two sheets differ, but for what names other sheets. */
const differingFields = (section: SectionKey, a: SheetValues, b: SheetValues): string[] =>
  sectionFields(section).flatMap(({ key, label }) =>
    REFERENCES.has(key) || isDeepStrictEqual(a[key] ?? null, b[key] ?? null) ? [] : [label],
  );

/** Of the parts of a rig and its take-apart list, those that differ; which pictures and materials they name does not count. */
function differingBuild(a: Build, b: Build): string[] {
  const plain = (list: unknown[] = []) => list.map((item) => ({ ...(item as object), photograph: null, material_id: null }));
  const differ = (x?: unknown[], y?: unknown[]) => !isDeepStrictEqual(plain(x), plain(y));
  return [...(differ(a.parts, b.parts) ? ['Parts'] : []), ...(differ(a.teardown, b.teardown) ? ['Take-apart list'] : [])];
}

/** What the sheets of a package are called here, by section and number there; and which of the rigs are new. */
export interface SheetNumbers {
  of: Record<SectionKey, Map<number, number>>;
  new_rigs: Set<number>;
}

/**
 * Brings the sheets of a package onto the shelf: new ones as they are, the others as was chosen.
 * @throws Refusal or RuleError where a sheet breaks a rule
 */
export async function bringSheets(
  db: Client,
  shelf: StudyDocument['shelf'],
  choices: Record<string, Way>,
  photographs: Numbers,
): Promise<SheetNumbers> {
  const sheets = await arrivingSheets(db, shelf);
  const unknown = Object.keys(choices).find((key) => !sheets.some((s) => s.key === key));
  if (unknown) throw new Refusal(`The package has no sheet ${unknown}.`);
  const of: SheetNumbers['of'] = { materials: new Map(), coolers: new Map(), fans: new Map(), rigs: new Map(), instruments: new Map() };
  const new_rigs = new Set<number>();
  for (const section of ARRIVING_SECTIONS) {
    const taken = new Set((await listSheets(db, section)).map((s) => s.name));
    const own = sheets.filter((s) => s.section === section);
    const ways = new Map(own.map((s) => [s.key, s.mine ? (choices[s.key] ?? s.way) : 'both']));
    const fresh = shelf[section].filter((s) => ways.get(sheetKey(section, s.id)) === 'both');
    const numbers = await reserveNumbers(
      db,
      section,
      fresh.map((s) => s.id),
    );
    for (const arriving of shelf[section] as Arriving[]) {
      const key = sheetKey(section, arriving.id);
      const mine = own.find((s) => s.key === key)?.mine;
      if (mine && ways.get(key) === 'mine') {
        of[section].set(arriving.id, mine.id);
        continue;
      }
      const checked = checkedSheet(section, arriving.name, withNumbersHere(arriving.sheet as SheetValues, of));
      const build = section === 'rigs' ? buildOf(arriving, of.materials, photographs) : null;
      if (mine && ways.get(key) === 'theirs') {
        const version = (await listSheets(db, section)).find((s) => s.id === mine.id)?.version ?? 0;
        if (!(await updateSheet(db, section, mine.id, version, mine.name, checked.sheet)))
          throw new Refusal(`Somebody saved ${mine.name} meanwhile. Nothing was stored; try again.`, 409);
        // pictures of a rig come along with a new one alone
        if (build) await setBuild(db, mine.id, build.parts, build.teardown.map(withoutPhotograph));
        of[section].set(arriving.id, mine.id);
        continue;
      }
      const id = numbers.get(arriving.id) as number;
      const name = freeName(checked.name, taken);
      taken.add(name);
      await insertNumberedSheet(db, section, { id, name, sheet: checked.sheet, version: arriving.version });
      if (build) {
        await setBuild(db, id, build.parts, build.teardown);
        new_rigs.add(arriving.id);
      }
      of[section].set(arriving.id, id);
    }
  }
  return { of, new_rigs };
}

const numbersIn = (value: unknown, numbers: Map<number, number>): number[] =>
  Array.isArray(value) ? value.flatMap((id) => numbers.get(id as number) ?? []) : [];

/** A sheet whose references name the sheets here. */
function withNumbersHere(sheet: SheetValues, { fans, coolers, instruments }: SheetNumbers['of']): SheetValues {
  const here = { ...sheet };
  if (sheet.fans !== undefined) here.fans = numbersIn(sheet.fans, fans);
  if (sheet.instruments !== undefined) here.instruments = numbersIn(sheet.instruments, instruments);
  if (sheet.cooler_id !== undefined) here.cooler_id = coolers.get(sheet.cooler_id as number) ?? null;
  return here;
}

/** Parts and take-apart list of a rig, with the materials and pictures they have here. */
function buildOf({ parts = [], teardown = [] }: Arriving, materials: Map<number, number>, photographs: Numbers) {
  const here = parts.map((p) => {
    const { material_id, ...part } = p as RigPart;
    return material_id == null
      ? { ...part, ...(material_id === null ? { material_id } : {}) }
      : { ...part, material_id: materials.get(material_id) ?? null };
  });
  const steps = teardown.map((t) => {
    const step = t as TeardownStep;
    return step.photograph == null ? step : { ...step, photograph: photographs.get(step.photograph) ?? null };
  });
  return { parts: check(RigParts, { base: 1, parts: here }).parts, teardown: check(Teardown, { base: 1, steps }).steps };
}

const withoutPhotograph = (step: TeardownStep): TeardownStep => ({ ...step, photograph: null });

/** A name that no sheet of the section has. */
function freeName(wanted: string, taken: Set<string>): string {
  if (!taken.has(wanted)) return wanted;
  for (let n = 2; ; n++) {
    const name = `${wanted.slice(0, MOST_NAME - 8)} (${n})`;
    if (!taken.has(name)) return name;
  }
}
