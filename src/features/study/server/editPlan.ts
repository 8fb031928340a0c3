import { getMetadataStorage } from 'class-validator';
import { type Client, transaction } from '#app/database/pool';
import { isRecord } from '#app/http';
import { Refusal } from '#app/refusal';
import { SpecimenPlan } from '#features/study/model/specimenPlan';
import { type PlanKey, StudyPlan } from '#features/study/model/studyPlan';
import { listPlanSpecimens, lockPlan, type PlanRow, savePlan, saveSpecimenPlan } from '#features/study/store/plans';
import { check } from '#rules/validation';
import { type PlanView, planView } from './planView';

/** Fields that are columns of the study, with what stands there where nothing is said. */
const COLUMNS = { title: '', question: '', margin_k: 1, confidence: 0.95, scatter: 'auto', reference_id: null } as const;

export interface PlanChange {
  /** version of the plan that was looked at */
  base: number;
  /** new values by field; a field of a specimen is called `specimen:<id>:<field>` */
  changes: Record<string, unknown>;
  /** fields that are written though somebody else changed them since */
  insist: string[];
  /** values of fields as they were looked at, by who knows no version: such a field is in conflict where another value stands there */
  seen?: Record<string, unknown>;
}

/** A change as it was sent. */
export function planChange({ base, changes, insist, seen }: Record<string, unknown>): PlanChange {
  if (typeof base !== 'number' || !Number.isInteger(base)) throw new Refusal('Say which version of the plan was changed.');
  if (!isRecord(changes)) throw new Refusal('The changes are an object of fields.');
  return {
    ...{ base, changes, seen: isRecord(seen) ? seen : {} },
    insist: Array.isArray(insist) ? insist.filter((f): f is string => typeof f === 'string') : [],
  };
}

export interface PlanChangeAnswer {
  view: PlanView;
  /** fields that somebody else changed since; theirs stand, yours were not written */
  conflicts: { field: string; theirs: unknown }[];
}

/**
 * Writes changed fields of a plan. A field that somebody else changed since the version looked at is left as it is and told;
 * the others are written all the same.
 */
export const changePlan = async (studyId: number, { base, changes, insist, seen = {} }: PlanChange): Promise<PlanChangeAnswer> =>
  transaction(async (client) => {
    const row = await lockPlan(client, studyId);
    if (!row) throw new Refusal(`There is no study ${studyId}.`, 404);
    const fields = sortOut(changes);
    await checkFields(client, studyId, fields);
    const conflicts: PlanChangeAnswer['conflicts'] = [];
    const next = row.plan_version + 1;
    let written = false;
    const stored = new Map((await listPlanSpecimens(client, studyId)).map((s) => [s.id, s.plan]));
    for (const { key, specimen, field, value } of fields) {
      const theirs = specimen === null ? readField(row, field as PlanKey) : stored.get(specimen)?.[field as keyof SpecimenPlan];
      if (same(theirs, value)) continue;
      const isChanged = key in seen ? !same(theirs, seen[key]) : (row.plan_stamps[key] ?? 0) > base;
      if (isChanged && !insist.includes(key)) {
        conflicts.push({ field: key, theirs: theirs ?? null });
        continue;
      }
      if (specimen === null) writeField(row, field as PlanKey, value);
      else stored.set(specimen, { ...stored.get(specimen), [field]: value });
      row.plan_stamps[key] = next;
      written = true;
    }
    if (written) {
      row.plan_version = next;
      await savePlan(client, row).catch((error: { code?: string }) => {
        if (error.code === '23505')
          throw new Refusal(`There is already a study "${row.title}"; take another title.`, 409, { field: 'title' });
        throw error;
      });
      for (const id of new Set(fields.flatMap((f) => f.specimen ?? []))) await saveSpecimenPlan(client, id, stored.get(id) ?? {});
    }
    return { view: await planView(studyId, client), conflicts };
  });

/** Raises the version of a plan for a change besides its fields, such as of its order or its specimens. */
export async function stampPlan(client: Client, studyId: number): Promise<PlanRow> {
  const row = await lockPlan(client, studyId);
  if (!row) throw new Refusal(`There is no study ${studyId}.`, 404);
  row.plan_version++;
  await savePlan(client, row);
  return row;
}

interface FieldChange {
  key: string;
  specimen: number | null;
  field: string;
  value: unknown;
}

function sortOut(changes: Record<string, unknown>): FieldChange[] {
  const entries = Object.entries(changes);
  if (entries.length > 500) throw new Refusal('Up to 500 fields are changed at once.');
  return entries.map(([key, value]) => {
    const of = /^specimen:(\d{1,15}):(\w+)$/.exec(key);
    return of
      ? { key, specimen: Number(of[1]), field: of[2], value: emptied(value) }
      : { key, specimen: null, field: key, value: emptied(value) };
  });
}

const emptied = (value: unknown) => (value === '' || value === undefined ? null : value);

/** Rules of the classes, and what only the store knows. */
async function checkFields(client: Client, studyId: number, fields: FieldChange[]): Promise<void> {
  const own = Object.fromEntries(fields.filter((f) => f.specimen === null).map((f) => [f.field, f.value]));
  const unknown = [
    ...unknownFields(StudyPlan, Object.keys(own)),
    ...fields.filter((f) => f.specimen !== null).flatMap((f) => unknownFields(SpecimenPlan, [f.field])),
  ];
  if (unknown.length > 0) throw new Refusal(`A plan has no field ${unknown.join(', ')}.`);
  check(StudyPlan, own);
  const specimens = await listPlanSpecimens(client, studyId);
  for (const f of fields) {
    if (f.specimen === null) continue;
    if (!specimens.some((s) => s.id === f.specimen)) throw new Refusal('That specimen is no longer in this study.', 409);
    check(SpecimenPlan, { [f.field]: f.value });
  }
  if ('title' in own && String(own.title ?? '').trim() === '') throw new Refusal('The study needs a title.', 400, { field: 'title' });
  if (own.reference_id != null && !specimens.some((s) => s.id === own.reference_id))
    throw new Refusal('The reference must be one of the specimens of this study.', 400, { field: 'reference_id' });
}

const unknownFields = (type: new () => object, fields: string[]): string[] => fields.filter((f) => !ruledFields(type).has(f));

const ruled = new Map<new () => object, Set<string>>();

/** Fields a class has rules for. */
function ruledFields(type: new () => object): Set<string> {
  let known = ruled.get(type);
  if (!known) {
    known = new Set(
      getMetadataStorage()
        .getTargetValidationMetadatas(type, '', true, false)
        .map((m) => m.propertyName),
    );
    ruled.set(type, known);
  }
  return known;
}

const readField = (row: PlanRow, field: PlanKey): unknown => (field in COLUMNS ? row[field as keyof typeof COLUMNS] : row.plan[field]);

function writeField(row: PlanRow, field: PlanKey, value: unknown): void {
  if (field in COLUMNS) Object.assign(row, { [field]: value ?? COLUMNS[field as keyof typeof COLUMNS] });
  else row.plan = { ...row.plan, [field]: value ?? undefined };
}

const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);
