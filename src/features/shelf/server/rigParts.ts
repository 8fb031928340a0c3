import { database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { partsProblem, type RigPart, RigParts } from '#features/shelf/model/rigParts';
import { getRigParts, updateRigParts } from '#features/shelf/store/rigs';
import { listSheets } from '#features/shelf/store/sheets';
import { check } from '#rules/validation';

export interface RigPartsView {
  rig: { id: number; name: string };
  version: number;
  parts: RigPart[];
  /** that can lie on a part */
  materials: { id: number; name: string }[];
}

/** The parts of a rig. */
export async function rigPartsView(rigId: number): Promise<RigPartsView> {
  const db = database();
  const [row, materials] = await Promise.all([getRigParts(db, rigId), listSheets(db, 'materials')]);
  if (!row) throw new Refusal(`There is no rig ${rigId}.`, 404);
  const named = new Set(row.parts.map((p) => p.material_id));
  return {
    ...{ rig: { id: row.id, name: row.name }, version: row.version, parts: row.parts },
    materials: materials.filter((m) => !m.archived || named.has(m.id)).map(({ id, name }) => ({ id, name })),
  };
}

/** Stores the parts of a rig as a whole; refused where someone changed its sheet in between. */
export async function saveRigParts(rigId: number, given: Record<string, unknown>): Promise<RigPartsView> {
  const { base, parts } = check(RigParts, given);
  const problem = partsProblem(parts);
  if (problem) throw new Refusal(problem);
  await transaction(async (client) => {
    if (!(await getRigParts(client, rigId))) throw new Refusal(`There is no rig ${rigId}.`, 404);
    const known = new Set((await listSheets(client, 'materials')).map((m) => m.id));
    const lost = parts.find((p) => p.material_id != null && !known.has(p.material_id));
    if (lost) throw new Refusal(`The material of ${lost.name} is no longer on the shelf.`, 409);
    if (!(await updateRigParts(client, rigId, base, parts))) {
      throw new Refusal(
        'Someone else changed this rig in the meantime. What you entered is still here: load the page in a second window and merge both.',
        409,
      );
    }
  });
  return rigPartsView(rigId);
}
