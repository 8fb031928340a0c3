import { type Client, database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { PlannedMount } from '#core/design/orderTypes';
import type { StoredSheet } from '#features/shelf/model/sections';
import type { MaterialSheet } from '#features/shelf/model/sheets';
import { mountsLeft, stockOf } from '#features/shelf/model/stock';
import { type TeardownStep, teardownMinutes } from '#features/shelf/model/teardown';
import { takenBy, today } from '#features/shelf/server/sheets';
import { listTeardowns } from '#features/shelf/store/rigs';
import { listMaterialNames, listSheets } from '#features/shelf/store/sheets';
import { listCouponsUsed, sheetUses } from '#features/shelf/store/uses';
import type { MadeMount, PlanContext, PlanRig, PlanSpecimen } from '#features/study/model/context';
import type { StudyPlan } from '#features/study/model/studyPlan';
import { getPlan, listPlannedMounts, listPlanSpecimens, type PlannedMountRow, type PlanRow } from '#features/study/store/plans';
import { labHistory } from './labHistory';

/** A mount of the order; number and `done` are told by the mounts in the store. */
export interface OrderedMount extends PlannedMount {
  id: number;
  reason: string;
}

export interface PlanView {
  study_id: number;
  version: number;
  plan: StudyPlan;
  context: PlanContext;
  mounts: OrderedMount[];
  /** sheets that can become specimens */
  shelf: { materials: { id: number; name: string; kind: string }[]; coolers: { id: number; name: string }[] };
}

/** Everything the plan place shows and computes with. */
export async function planView(studyId: number, db: Client = database()): Promise<PlanView> {
  const row = await getPlan(db, studyId);
  if (!row) throw new Refusal(`There is no study ${studyId}.`, 404);
  // one after the other: within a transaction all go through one connection
  const context = await planContext(studyId, db);
  const shelf = await shelfChoices(db);
  const planned = await listPlannedMounts(db, studyId);
  return {
    study_id: studyId,
    version: row.plan_version,
    ...{ plan: planOf(row), context, shelf },
    mounts: withDone(planned, context.specimens),
  };
}

/** Counts the changes of a plan. */
export async function planVersion(studyId: number): Promise<number> {
  const row = await getPlan(database(), studyId);
  if (!row) throw new Refusal(`There is no study ${studyId}.`, 404);
  return row.plan_version;
}

/** The plan as one object, whether a field is a column or not. */
export const planOf = ({ plan, title, question, margin_k, confidence, scatter, reference_id }: PlanRow): StudyPlan => ({
  ...plan,
  ...{ title, question, margin_k, confidence, scatter, reference_id },
});

/** What a plan of a study rests on: its specimens, the rigs, the lab's history. */
export async function planContext(studyId: number, db: Client): Promise<PlanContext> {
  const specimens = await listPlanSpecimens(db, studyId);
  const materials = await sheetUses(
    db,
    'materials',
    specimens.flatMap((s) => s.material?.id ?? []),
  );
  const rigs = await listSheets(db, 'rigs');
  const coolers = await listSheets(db, 'coolers');
  const instruments = await listSheets(db, 'instruments');
  const hasCoupons = ({ sheet }: StoredSheet) => sheet.lid_coupons != null || sheet.base_coupons != null;
  const coupons = await listCouponsUsed(
    db,
    rigs.filter(hasCoupons).map((r) => r.id),
  );
  const teardowns = await listTeardowns(db);
  const history = await labHistory(db);
  const used = ({ id, sheet }: { id: number; sheet: MaterialSheet }) =>
    takenBy(
      sheet,
      materials.filter((u) => u.sheet_id === id),
    );
  return {
    specimens: specimens.map((s): PlanSpecimen => {
      const stock = s.material ? stockOf(s.material.sheet, used(s.material)) : null;
      const left = s.material ? mountsLeft(s.material.sheet, used(s.material)) : null;
      const made = s.made_mounts.filter((m) => m.ran && m.standing).length;
      return { ...s, made, stock_left: left, cost: stock?.cost ?? null, currency: s.material?.sheet.currency ?? null };
    }),
    rigs: rigs.filter((r) => !r.archived).map((r) => planRig(r, coolers, instruments, coupons.get(r.id) ?? 0, teardowns.get(r.id) ?? [])),
    history,
    today: today(),
  };
}

function planRig(
  { id, name, sheet }: StoredSheet,
  coolers: StoredSheet[],
  instruments: StoredSheet[],
  used: number,
  teardown: TeardownStep[],
): PlanRig {
  const fitted = coolers.find((c) => c.id === sheet.cooler_id);
  const coupons = [sheet.lid_coupons, sheet.base_coupons].filter((c) => typeof c === 'number');
  return {
    ...{ id, name, sheet },
    cooler: fitted ? { id: fitted.id, name: fitted.name, sheet: fitted.sheet } : null,
    instruments: instruments
      .filter((i) => Array.isArray(sheet.instruments) && sheet.instruments.includes(i.id))
      .map(({ id, name, sheet }) => ({ id, name, sheet })),
    teardown_min: teardownMinutes(teardown),
    coupons_left: coupons.length === 0 ? null : Math.max(0, Math.min(...coupons) - used),
  };
}

async function shelfChoices(db: Client): Promise<PlanView['shelf']> {
  const coolers = await listSheets(db, 'coolers');
  return {
    materials: await listMaterialNames(db),
    coolers: coolers.filter((c) => !c.archived).map(({ id, name }) => ({ id, name })),
  };
}

/**
 * The order as it stands: what was made takes the first planned mount of its specimen, on its own rig where there is one, with its own
 * number; what is still to come is counted on from there. A mount that was left out keeps its number, and the plan asks for another.
 */
function withDone(planned: PlannedMountRow[], specimens: { id: number; made_mounts: MadeMount[] }[]): OrderedMount[] {
  const made = new Map(
    specimens.flatMap((s) =>
      matchMounts(
        planned.filter((m) => m.specimen_id === s.id),
        s.made_mounts,
      ),
    ),
  );
  return planned.map(({ id, specimen, rig, number, day, extra, state, reason }) => ({
    ...{ id, specimen, rig, day, extra, reason },
    ...{ mount: number, state },
    ...made.get(id),
  }));
}

/** Numbers and states of one specimen's planned mounts, by their ids. */
function matchMounts(planned: PlannedMountRow[], mounts: MadeMount[]): [number, { mount: number; state: 'planned' | 'done' }][] {
  // the list is kept in its order within a day
  const open = planned.filter((m) => m.state === 'planned').sort((a, b) => a.day - b.day);
  const matched: [number, { mount: number; state: 'planned' | 'done' }][] = [];
  const standing = mounts.filter((m) => m.standing);
  for (const m of [...standing.filter((s) => s.ran), ...standing.filter((s) => !s.ran)]) {
    const at = open.findIndex((p) => p.rig === m.rig);
    const [taken] = open.splice(Math.max(0, at), 1);
    if (taken) matched.push([taken.id, { mount: m.number, state: m.ran ? 'done' : 'planned' }]);
  }
  const lost = new Set(planned.filter((m) => m.state !== 'planned').map((m) => m.number));
  let number = Math.max(0, ...mounts.map((m) => m.number));
  for (const p of open) {
    do number++;
    while (lost.has(number));
    matched.push([p.id, { mount: number, state: 'planned' }]);
  }
  return matched;
}
