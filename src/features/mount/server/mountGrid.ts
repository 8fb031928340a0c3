import { database } from '#app/database/pool';
import { timeOrder } from '#core/design/timeline';
import { type GridRow, listGrid } from '#features/mount/store/attempts';
import { resolvePlan } from '#features/study/model/resolve';
import { planView } from '#features/study/server/planView';
import type { PlannedMountRow } from '#features/study/store/plans';
import { studyMountFindings } from './mountFacts';

/** The mount that is to be made next. */
export interface NextMount extends Pick<PlannedMountRow, 'specimen' | 'specimen_id' | 'rig' | 'rig_id' | 'number' | 'day'> {
  date: string | null;
}

interface MountGrid {
  specimens: { id: number; name: string; position: number; mounts: GridRow[]; planned: number; failed: number; tries: number }[];
  /** the next mount by plan; null where there is no order or all is done */
  next: NextMount | null;
  /** rigs to choose from for a mount beside the plan */
  rigs: { id: number; name: string }[];
}

/** Every mount of a study by specimen, with its tries, and the one that is to be made next. */
export async function mountGrid(studyId: number): Promise<MountGrid> {
  const view = await planView(studyId);
  const ofMaking = new Map(
    (await studyMountFindings(studyId)).map((m) => [m.mount_id, m.findings.filter((f) => f.severity === 'warn').length]),
  );
  const rows = (await listGrid(database(), studyId)).map((r) => ({ ...r, findings: r.findings + (ofMaking.get(r.id) ?? 0) }));
  const plan = resolvePlan(view.plan, view.context);
  const chosen = plan.rigs.length > 0 ? plan.rigs : view.context.rigs;
  // what is begun or ready has its place in the order under its own number
  const isMade = (m: { specimen: string; mount: number }) =>
    plan.specimens.some((s) => s.name === m.specimen && s.made_mounts.some((made) => made.number === m.mount));
  const due = (plan.order ? timeOrder(plan.order, view.mounts) : []).find((m) => m.state === 'planned' && !isMade(m));
  const specimen = due && plan.specimens.find((s) => s.name === due.specimen);
  const rig = due && plan.rigs.find((r) => r.name === due.rig);
  return {
    specimens: plan.specimens.map((s) => {
      const mounts = rows.filter((r) => r.specimen_id === s.id);
      return {
        ...{ id: s.id, name: s.name, position: s.position, mounts, planned: s.mounts },
        failed: mounts.reduce((sum, m) => sum + m.failed, 0),
        tries: mounts.reduce((sum, m) => sum + m.attempts, 0),
      };
    }),
    next:
      due && specimen && rig
        ? {
            ...{ specimen: due.specimen, specimen_id: specimen.id, rig: due.rig, rig_id: rig.id, number: due.mount },
            day: due.day,
            date: plan.dates[due.day - 1] ?? null,
          }
        : null,
    rigs: chosen.map(({ id, name }) => ({ id, name })),
  };
}
