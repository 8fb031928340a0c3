import { database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { grouped, spread } from '#core/ranking/mountRows';
import type { NextStudy, PossibleSetup } from '#core/ranking/nextStudy';
import { list } from '#core/text/words';
import { NextAsked, NextPlanned } from '#features/ranking/model/nextPlan';
import { partUnderTest } from '#features/ranking/model/partUnderTest';
import type { RankedName, RankingChoice } from '#features/ranking/model/rankingRows';
import { listSheetsOf } from '#features/ranking/store/rankedMaterials';
import type { RigPart } from '#features/shelf/model/rigParts';
import type { RigSheet } from '#features/shelf/model/sheets';
import { mountsLeft } from '#features/shelf/model/stock';
import { takenBy } from '#features/shelf/server/sheets';
import { listRigParts } from '#features/shelf/store/rigs';
import { listSheets } from '#features/shelf/store/sheets';
import { sheetUses } from '#features/shelf/store/uses';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import { StudyPlan } from '#features/study/model/studyPlan';
import { changePlan } from '#features/study/server/editPlan';
import { insertNewStudy } from '#features/study/server/newStudy';
import { changeOrder } from '#features/study/server/order';
import { planVersion } from '#features/study/server/planView';
import { insertSpecimen, linkSpecimen } from '#features/study/store/studies';
import { check } from '#rules/validation';
import { type GatheredEvidence, gatherEvidence } from './evidence';
import { rankingThreads } from './tasks';

/** Where more could be measured. */
export interface MeasurableSetup extends PossibleSetup {
  words: string;
  rig_id: number;
  cooler_id: number | null;
  power_w: number | null;
  isNew: boolean;
}

const MOST_SETUPS = 24;
const NEW = 'rig ';

/** What the place of the next study offers to choose from. */
export interface NextPlace {
  choice: RankingChoice;
  materials: { key: string; name: string }[];
  names: Record<string, string>;
  setups: Pick<MeasurableSetup, 'name' | 'words' | 'isNew'>[];
  hours_per_mount: number;
  mounts: number;
}

export async function nextPlace(choice: RankingChoice): Promise<NextPlace | null> {
  const gathered = await gatherEvidence(choice);
  if (!gathered.question) return null;
  return {
    choice,
    materials: gathered.names.map(({ key, name }) => ({ key, name })),
    names: Object.fromEntries(gathered.names.map((n) => [n.key, n.name])),
    setups: (await measurable(gathered)).map(({ name, words, isNew }) => ({ name, words, isNew })),
    hours_per_mount: Number(((PLAN_DEFAULTS.mount_min + PLAN_DEFAULTS.runs * PLAN_DEFAULTS.run_min) / 60).toFixed(2)),
    mounts: PLAN_DEFAULTS.mounts,
  };
}

/** The studies that gain most, and what the shelf holds too little of for them: mounts that are left, by material. */
export interface Proposals {
  studies: NextStudy[];
  short: Record<string, number>;
}

/** The three studies that gain most for the hours at hand. */
export async function askNext(choice: RankingChoice, given: Record<string, unknown>): Promise<Proposals> {
  const asked = check(NextAsked, given);
  const gathered = await gatherEvidence(choice);
  const { question } = gathered;
  if (!question) throw new Refusal('Nothing is ranked yet, so nothing can be gained.', 409);
  const known = new Set(gathered.names.map((n) => n.key));
  if (asked.candidates.some((c) => !known.has(c)))
    throw new Refusal('One of the materials is not in the ranking any more. Reload the page.', 409);
  if (asked.candidates.length === 1) throw new Refusal('Choose two materials or more, or none for those that the ranking leaves open.');
  const setups = (await measurable(gathered)).map(({ name, mount_sd }) => ({ name, mount_sd }));
  if (asked.hours < 2 * asked.mounts * asked.hours_per_mount)
    throw new Refusal(
      `Two materials with ${asked.mounts} mounts each take ${Number((2 * asked.mounts * asked.hours_per_mount).toFixed(1))} h. Give more hours, or fewer mounts.`,
    );
  const studies = await rankingThreads.nextStudies({ question, ...asked, setups });
  const wanted = new Set(studies.flatMap((s) => s.materials));
  return {
    studies,
    short: await shortOf(
      gathered.names.filter((n) => wanted.has(n.key)),
      asked.mounts,
    ),
  };
}

/** Materials of which the shelf holds too little for so many mounts, with those that it holds. */
async function shortOf(names: RankedName[], mounts: number): Promise<Record<string, number>> {
  const db = database();
  const ids = [...new Set(names.flatMap((n) => n.material_id ?? []))];
  const [sheets, uses] = await Promise.all([listSheetsOf(db, ids), sheetUses(db, 'materials', ids)]);
  const left = new Map(
    sheets.map(({ id, sheet }) => {
      const own = uses.filter((u) => u.sheet_id === id);
      return [id, mountsLeft(sheet, takenBy(sheet, own))];
    }),
  );
  return Object.fromEntries(
    names.flatMap((n) => {
      const held = n.material_id === null ? null : (left.get(n.material_id) ?? null);
      return held !== null && held < mounts ? [[n.key, held] as const] : [];
    }),
  );
}

/** Opens a study as it was proposed: its materials, its rig, its mounts, and an order drawn. */
export async function planNext(choice: RankingChoice, given: Record<string, unknown>): Promise<{ id: number }> {
  const { setup: name, materials: keys, mounts } = check(NextPlanned, given);
  const gathered = await gatherEvidence(choice);
  const setup = (await measurable(gathered)).find((s) => s.name === name);
  if (!setup) throw new Refusal('That set-up no longer exists. Ask again.', 409);
  const found = keys.map((key) => gathered.names.find((n) => n.key === key));
  const materials = found.flatMap((n) => n ?? []);
  if (materials.length < keys.length) throw new Refusal('One of the materials is not in the ranking any more. Ask again.', 409);
  // two lots of one sheet are two specimens; a name stands once
  const names = materials.map((m) => m.name.slice(0, 80));
  const reference = gathered.names.find((n) => n.key === gathered.question?.reference);
  const first = Math.max(
    0,
    materials.findIndex((m) => m.key === reference?.key),
  );
  const plan = {
    ...{ varies: 'material', design: 'one_factor', mounts, rigs: [setup.rig_id] },
    ...(setup.power_w === null ? {} : { load_w: Number(setup.power_w.toPrecision(3)) }),
  };
  check(StudyPlan, plan);
  const { id, specimens } = await transaction(async (client) => {
    const title = `${list(names)} on ${setup.words}`.slice(0, 110);
    const question = 'Proposed by the ranking: what it leaves open, measured side by side.';
    let id: number | null = null;
    for (let n = 1; id === null && n <= 99; n++)
      id = await insertNewStudy(client, { title: n === 1 ? title : `${title} (${n})`, question });
    if (id === null) throw new Refusal('There are 99 studies of that title already; open one by hand.', 409);
    const specimens: number[] = [];
    for (const [i, m] of materials.entries()) {
      const specimen = await insertSpecimen(client, id, names[i], m.kind);
      if (specimen === null) throw new Refusal(`${names[i]} stands twice in the proposal.`, 409);
      await linkSpecimen(client, specimen, m.material_id, setup.cooler_id);
      specimens.push(specimen);
    }
    return { id, specimens };
  });
  const changes = { ...plan, reference_id: specimens[first] };
  await changePlan(id, { base: await planVersion(id), changes, insist: Object.keys(changes) });
  await changeOrder(id, { action: 'draw', seed: PLAN_DEFAULTS.seed });
  return { id };
}

/** Set-ups of this lab that could be measured again, the newest first, and rigs on which nothing was ranked yet. */
async function measurable({ setups, mounts, rows }: GatheredEvidence): Promise<MeasurableSetup[]> {
  const db = database();
  const [rigs, parts] = await Promise.all([listSheets(db, 'rigs'), listRigParts(db)]);
  const squares = [...grouped(mounts, (m) => JSON.stringify([m.setup, m.material])).values()].map((g) => ({
    setup: g[0].setup,
    ...spread(g.map((m) => m.value)),
  }));
  const sdOf = (of: typeof squares): number | null => {
    const [sum, df] = of.reduce(([s, d], g) => [s + g.squares, d + g.df], [0, 0]);
    return df >= 2 && sum > 0 ? Math.sqrt(sum / df) : null;
  };
  const variances = rows.map((r) => r.variance * r.mounts);
  const usual = sdOf(squares) ?? Math.sqrt(variances.reduce((sum, v) => sum + v, 0) / Math.max(1, variances.length));
  const usable = new Set(rigs.filter((r) => !r.archived).map((r) => r.id));
  const newest = new Map<string, number>();
  for (const m of mounts) newest.set(m.setup, Math.max(newest.get(m.setup) ?? 0, m.at_s ?? 0));
  const known = setups
    .filter((s) => s.lab === null && usable.has(s.places[0].rig_id) && s.places[0].area_mm2 !== null)
    .sort((a, b) => (newest.get(b.key) ?? 0) - (newest.get(a.key) ?? 0))
    .slice(0, MOST_SETUPS)
    .map((s): MeasurableSetup => {
      const [p] = s.places;
      return {
        ...{ name: s.key, words: s.name, rig_id: p.rig_id, cooler_id: p.cooler_id, power_w: p.power_w, isNew: false },
        mount_sd: sdOf(squares.filter((g) => g.setup === s.key)) ?? usual,
      };
    });
  const measured = new Set(setups.flatMap((s) => s.places.map((p) => p.rig_id)));
  const fresh = rigs.flatMap((r): MeasurableSetup[] => {
    const sheet = r.sheet as RigSheet;
    if (r.archived || measured.has(r.id) || partUnderTest(sheet, (parts.get(r.id) ?? []) as RigPart[]).area_mm2 === null) return [];
    return [
      {
        ...{ name: `${NEW}${r.id}`, words: r.name, rig_id: r.id, cooler_id: sheet.cooler_id ?? null, power_w: sheet.power_w ?? null },
        ...{ isNew: true, mount_sd: usual },
      },
    ];
  });
  return [...known, ...fresh.slice(0, MOST_SETUPS)];
}
