import { database } from '#app/database/pool';
import { timeOrder } from '#core/design/timeline';
import { crossedDevices, isAsFound } from '#features/study/model/asFound';
import { benchClock } from '#features/study/model/calendar';
import { resolvePlan } from '#features/study/model/resolve';
import { answersOf } from '#features/study/server/keptAnswers';
import { type PlanView, planView } from '#features/study/server/planView';
import { listOrderedStudies } from '#features/study/store/keptAnswers';
import { listMounts } from '#features/study/store/studies';

/** A mount that the order of a study has next on a rig. */
export interface QueuedMount {
  study_id: number;
  study: string;
  rig: string;
  specimen: string;
  position: number;
  number: number;
  /** calendar day and time of the bench; null where the plan has no first day */
  date: string | null;
  from: string;
  /** the mount, where it is begun */
  mount_id: number | null;
}

const EACH_RIG = 4;

/**
 * Has every specimen its mounts? The reference's extra ones that were not made are not waited for then, nor a state that cannot be mounted
 * again.
 */
const isComplete = ({ mounts, context, plan }: PlanView): boolean =>
  context.specimens.every((s) => {
    const own = mounts.filter((m) => m.specimen === s.name);
    const planned = own.filter((m) => !m.extra).length;
    const wanted = isAsFound(plan, s) ? Math.min(planned, crossedDevices(plan)) : planned;
    return own.filter((m) => m.state === 'done').length >= wanted;
  });

/** A mount that waits in the order of its study, with its time for sorting. */
type Waiting = QueuedMount & { at: number };

/** What comes next on each rig, over all studies with an order; a mount leaves the queue when its runs are in. */
export async function benchQueue(): Promise<QueuedMount[]> {
  const orders = await answersOf('queue', await listOrderedStudies(database()), nextMounts);
  return firstOnEach([...orders.values()].flat()).map(({ at: _, ...q }) => q);
}

/** What comes next on each rig of one study. */
async function nextMounts(studyId: number): Promise<Waiting[]> {
  const view = await planView(studyId);
  if (isComplete(view)) return [];
  const plan = resolvePlan(view.plan, view.context);
  if (!plan.order) return [];
  const begun = new Map((await listMounts(database(), studyId)).map((m) => [`${m.specimen_id}/${m.number}`, m.id]));
  return firstOnEach(
    timeOrder(plan.order, view.mounts)
      .filter((m) => m.state === 'planned')
      .map((m): Waiting => {
        const specimen = view.context.specimens.find((s) => s.name === m.specimen);
        const date = plan.dates[m.day - 1] ?? null;
        const from = benchClock(plan.dates[0] ?? '2026-01-05', plan.said.start_time, m.start_min).time;
        return {
          ...{ study_id: studyId, study: view.plan.title ?? '', rig: m.rig, specimen: m.specimen },
          ...{ position: specimen?.position ?? 0, number: m.mount },
          ...{ date, from, mount_id: begun.get(`${specimen?.id}/${m.mount}`) ?? null },
          at: (date ? Date.parse(date) / 60_000 : Number.MAX_SAFE_INTEGER) + m.start_min,
        };
      }),
  );
}

/** The earliest of each rig. */
function firstOnEach(waiting: Waiting[]): Waiting[] {
  const taken = new Map<string, number>();
  return [...waiting]
    .sort((a, b) => a.at - b.at)
    .filter((q) => {
      const n = (taken.get(q.rig) ?? 0) + 1;
      taken.set(q.rig, n);
      return n <= EACH_RIG;
    });
}
