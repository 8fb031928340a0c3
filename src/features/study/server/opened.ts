import type { Client } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { SpecimenKind } from '#features/shelf/model/materials';
import { insertRig } from '#features/shelf/store/rigs';
import { findSheet } from '#features/shelf/store/sheets';
import { insertSpecimen, linkSpecimen } from '#features/study/store/studies';

/** A new specimen of a study by its name; one that the shelf knows by that name is the shelf's, with its kind. */
export async function openSpecimen(
  client: Client,
  studyId: number,
  given: { specimen_name?: string | null; specimen_kind?: SpecimenKind | null },
): Promise<number> {
  const name = (given.specimen_name ?? '').trim();
  if (name === '') throw new Refusal('Say which specimen it is.', 400, { field: 'specimen_name' });
  const material = given.specimen_kind === 'state' ? null : await findSheet(client, 'materials', name);
  const cooler = given.specimen_kind === 'state' || material ? null : await findSheet(client, 'coolers', name);
  const kind = material ? (material.sheet.kind ?? 'paste') : cooler ? 'cooler' : (given.specimen_kind ?? 'paste');
  const id = await insertSpecimen(client, studyId, name, String(kind));
  if (id === null) throw new Refusal(`The study already has a specimen "${name}"; choose it from the list.`, 409);
  if (material || cooler) await linkSpecimen(client, id, material?.id ?? null, cooler?.id ?? null);
  return id;
}

/** A new rig by its name. */
export async function openRig(client: Client, given: { rig_name?: string | null; rig_limit_c?: number | null }): Promise<number> {
  const name = (given.rig_name ?? '').trim();
  if (name === '') throw new Refusal('Say on which rig it stands.', 400, { field: 'rig_name' });
  const id = await insertRig(client, name, given.rig_limit_c ?? null);
  if (id === null) throw new Refusal(`There is already a rig "${name}"; choose it from the list.`, 409);
  return id;
}
