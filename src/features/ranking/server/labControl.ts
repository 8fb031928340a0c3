import { database } from '#app/database/pool';
import { type RigEvent, type SetupControl, setupControl } from '#features/ranking/model/control';
import type { RankingChoice } from '#features/ranking/model/rankingRows';
import { listRigChanges, listRigInstruments, type SheetChangeRow } from '#features/ranking/store/sheetChanges';
import { gatherEvidence } from './evidence';

/** The reference of this lab over the years, set-up by set-up. */
export interface LabControl {
  choice: RankingChoice;
  reference: { key: string; name: string } | null;
  materials: { key: string; name: string }[];
  controls: SetupControl[];
  /** set-ups with fewer than two dated mounts of it */
  too_few: string[];
}

/** The reference per rig over the years, with what happened on the shelf. */
export async function labControl(choice: RankingChoice): Promise<LabControl> {
  // a lot is no other reference: its change is one of the things a chart shows
  const gathered = await gatherEvidence({ ...choice, labs: 'own', lots: 'together' });
  const { question, names, setups, mounts } = gathered;
  const reference = names.find((n) => n.key === question?.reference) ?? null;
  const controls: SetupControl[] = [];
  const few: string[] = [];
  for (const setup of setups.filter((s) => s.lab === null)) {
    const studies = new Map(setup.places.map((p) => [p.study_id, p.study]));
    const own = mounts.filter((m) => m.setup === setup.key && m.material === reference?.key);
    const points = own.flatMap((m) =>
      m.at_s === null ? [] : [{ at_s: m.at_s, value: m.value, mount_id: m.mount_id, study: studies.get(m.study_id) ?? '' }],
    );
    const control = setupControl(
      setup,
      points,
      points.length < 2 ? [] : await rigEvents(setup.places[0].rig_id, setup.places[0].cooler_id),
    );
    if (control) controls.push(control);
    else if (own.length > 0) few.push(setup.name);
  }
  controls.sort((a, b) => Number(b.is_finding) - Number(a.is_finding) || b.points.length - a.points.length);
  return {
    ...{ choice, controls, too_few: few, materials: names.map(({ key, name }) => ({ key, name })) },
    reference: reference && { key: reference.key, name: reference.name },
  };
}

async function rigEvents(rig: number, cooler: number | null): Promise<RigEvent[]> {
  const db = database();
  const instruments = await listRigInstruments(db, rig);
  const changes = await listRigChanges(
    db,
    rig,
    cooler === null ? [] : [cooler],
    instruments.map((i) => i.id),
  );
  return [
    ...instruments.flatMap((i): RigEvent[] => {
      const at = Date.parse(i.calibrated_on ?? '');
      return Number.isNaN(at) ? [] : [{ at_s: at / 1000, words: `${i.name} calibrated`, kind: 'calibration' }];
    }),
    ...changes.map((c): RigEvent => ({ at_s: c.at.getTime() / 1000, words: editWords(c), kind: 'edit' })),
  ].sort((a, b) => a.at_s - b.at_s);
}

/** An edit of a sheet in words: which fields, and what they became where that is short. */
function editWords({ name, before, after }: SheetChangeRow): string {
  const keys = [...new Set([...Object.keys(before), ...Object.keys(after)])];
  const told = keys.slice(0, 3).map((k) => {
    const value = after[k];
    const short = typeof value === 'number' || (typeof value === 'string' && value.length <= 24) ? ` to ${value}` : '';
    return `${k.replaceAll('_', ' ')}${short}`;
  });
  return `${name}: ${told.join(', ')}${keys.length > 3 ? ` and ${keys.length - 3} more` : ''} changed`;
}
