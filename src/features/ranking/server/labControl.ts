import { database } from '#app/database/pool';
import type { ControlQuestion, RigEvent, SetupControl } from '#features/ranking/model/control';
import type { RankingChoice } from '#features/ranking/model/rankingRows';
import { listRigChanges, listRigInstruments, type SheetChangeRow } from '#features/ranking/store/sheetChanges';
import { gatherEvidence, keptRanking } from './evidence';
import { rankingThreads } from './tasks';

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
  const questions: ControlQuestion[] = [];
  const few: string[] = [];
  const eventsOf = new Map<string, RigEvent[]>();
  for (const setup of setups.filter((s) => s.lab === null)) {
    const studies = new Map(setup.places.map((p) => [p.study_id, p.study]));
    const own = mounts.filter((m) => m.setup === setup.key && m.material === reference?.key);
    const points = own.flatMap((m) =>
      m.at_s === null ? [] : [{ at_s: m.at_s, value: m.value, mount_id: m.mount_id, study: studies.get(m.study_id) ?? '' }],
    );
    if (points.length > 1) {
      const [{ rig_id, cooler_id }] = setup.places;
      const events = eventsOf.get(`${rig_id}/${cooler_id}`) ?? (await rigEvents(rig_id, cooler_id));
      eventsOf.set(`${rig_id}/${cooler_id}`, events);
      questions.push({ setup: { key: setup.key, name: setup.name }, points, events });
    } else if (own.length > 0) few.push(setup.name);
  }
  const controls = questions.length === 0 ? [] : await keptRanking('control', questions, () => rankingThreads.control(questions));
  const order = ['moved', 'settled', 'steady'];
  controls.sort((a, b) => order.indexOf(a.standing) - order.indexOf(b.standing) || b.points.length - a.points.length);
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
