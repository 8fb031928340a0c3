import { transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { refuseUnseen } from '#app/seen';
import { SPECIMEN_KINDS, type SpecimenKind } from '#features/shelf/model/materials';
import { getSheet, insertSheet, listSheets } from '#features/shelf/store/sheets';
import { renameSpecimen } from '#features/study/store/copies';
import { insertSpecimen, linkSpecimen, listSpecimens } from '#features/study/store/studies';
import { stampPlan } from './editPlan';
import { type PlanView, planView } from './planView';

const MOST_SPECIMENS = 60;

/** Adds a specimen to a study: a sheet of the shelf, or one by name and kind. */
export const addSpecimen = async (studyId: number, given: Record<string, unknown>): Promise<PlanView> =>
  transaction(async (client) => {
    const id = (v: unknown) => (Number.isInteger(v) && (v as number) > 0 ? (v as number) : null);
    const materialId = id(given.material_id);
    const coolerId = id(given.cooler_id);
    const material = materialId === null ? null : await getSheet(client, 'materials', materialId);
    const cooler = coolerId === null ? null : await getSheet(client, 'coolers', coolerId);
    if ((materialId !== null && !material) || (coolerId !== null && !cooler))
      throw new Refusal('That sheet is no longer on the shelf.', 409);
    const said = typeof given.name === 'string' ? given.name.trim() : '';
    const name = said || [cooler?.name, material?.name].filter(Boolean).join(' with ').slice(0, 80);
    if (name.length < 1 || name.length > 80) throw new Refusal('A specimen needs a name of 1 to 80 characters.');
    const kind = given.kind ?? (material ? (material.sheet.kind ?? 'paste') : cooler ? 'cooler' : null);
    if (!SPECIMEN_KINDS.includes(kind as SpecimenKind)) throw new Refusal('Say what kind the specimen is: paste, pad, cooler and so on.');
    const before = await stampPlan(client, studyId);
    const specimen = await insertSpecimen(client, studyId, name, kind as string);
    if (specimen === null) throw new Refusal(`${name} is already in "${before.title}"; take another name.`, 409);
    await linkSpecimen(client, specimen, materialId, coolerId);
    const view = await planView(studyId, client);
    if (view.context.specimens.length > MOST_SPECIMENS) throw new Refusal(`A study takes up to ${MOST_SPECIMENS} specimens.`);
    return view;
  });

/** Puts a specimen that was typed by name on the shelf, or takes it for the sheet of that name that is there. */
export const shelveSpecimen = async (studyId: number, id: number): Promise<PlanView> =>
  transaction(async (client) => {
    await stampPlan(client, studyId);
    const specimen = (await planView(studyId, client)).context.specimens.find((s) => s.id === id);
    if (!specimen) throw new Refusal('That specimen is no longer in this study.', 409);
    if (specimen.material || specimen.cooler) throw new Refusal(`${specimen.name} has its sheet on the shelf already.`, 409);
    if (specimen.kind === 'state') throw new Refusal('A state of a device is no thing on a shelf; its material or cooler is.');
    const section = specimen.kind === 'cooler' ? 'coolers' : 'materials';
    const known = (await listSheets(client, section)).find((s) => s.name === specimen.name);
    const sheet = known?.id ?? (await insertSheet(client, section, specimen.name, section === 'materials' ? { kind: specimen.kind } : {}));
    await linkSpecimen(client, id, section === 'materials' ? sheet : null, section === 'coolers' ? sheet : null);
    return planView(studyId, client);
  });

/** Gives a specimen another name in its study; its sheet on the shelf keeps its own. */
export const nameSpecimen = async (studyId: number, id: number, given: Record<string, unknown>): Promise<PlanView> =>
  transaction(async (client) => {
    const name = typeof given.name === 'string' ? given.name.trim() : '';
    if (name.length < 1 || name.length > 80) throw new Refusal('A specimen needs a name of 1 to 80 characters.', 400, { field: 'name' });
    await stampPlan(client, studyId);
    const known = (await listSpecimens(client, studyId)).find((s) => s.id === id);
    if (known) refuseUnseen(given, known.name, `Somebody else renamed this specimen “${known.name}” meanwhile.`);
    const renamed = await renameSpecimen(client, studyId, id, name).catch((error: { code?: string }) => {
      if (error.code === '23505') throw new Refusal(`There is already a specimen "${name}" in this study; take another name.`, 409);
      throw error;
    });
    if (!renamed) throw new Refusal('That specimen is no longer in this study.', 409);
    return planView(studyId, client);
  });
