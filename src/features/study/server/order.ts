import { transaction } from '#app/database/pool';
import { many } from '#app/database/query';
import { Refusal } from '#app/refusal';
import { type MountKey, moveMount, replaceMount } from '#core/design/changeOrder';
import { dayTooShort, outOfPlace } from '#core/design/orderFindings';
import type { OrderPlan, PlannedMount } from '#core/design/orderTypes';
import { dayStart } from '#core/design/timeline';
import type { PlanSpecimen } from '#features/study/model/context';
import { type ResolvedPlan, resolvePlan } from '#features/study/model/resolve';
import { replacePlannedMounts } from '#features/study/store/plans';
import { stampPlan } from './editPlan';
import { type OrderedMount, type PlanView, planView } from './planView';
import { studyThreads } from './tasks';

type OrderAction =
  | { action: 'draw'; seed: number }
  | { action: 'move'; mount: MountKey; rig: string; day: number; before: number }
  | { action: 'mark'; mount: MountKey; state: 'failed' | 'lost'; reason: string }
  | { action: 'unmark'; mount: MountKey }
  | { action: 'put_back'; mounts: { specimen: string; mount: number; rig: string; day: number }[] };

const MOST_MOUNTS = 2000;

/** Draws, changes or repairs the order of a study's mounts. What is done stays where it is. */
export async function changeOrder(studyId: number, given: Record<string, unknown>): Promise<PlanView> {
  const action = readAction(given);
  return transaction(async (client) => {
    await stampPlan(client, studyId);
    const view = await planView(studyId, client);
    const plan = resolvePlan(view.plan, view.context);
    if (!plan.order) throw new Refusal('An order needs specimens, a reference among them, and a rig.');
    const mounts = await act(action, plan.order, view.mounts, plan.specimens);
    await store(client, studyId, plan, view.mounts, mounts, action.action === 'mark' ? action : null);
    return planView(studyId, client);
  });
}

async function act(action: OrderAction, order: OrderPlan, mounts: OrderedMount[], specimens: PlanSpecimen[]): Promise<PlannedMount[]> {
  switch (action.action) {
    case 'draw':
      return drawRest(order, mounts, specimens, action.seed);
    case 'move': {
      if (!order.rigs.includes(action.rig)) throw new Refusal(`${action.rig} is not one of the rigs of this plan.`);
      const moved = mounts.find((m) => m.specimen === action.mount.specimen && m.mount === action.mount.mount);
      if (!moved) throw new Refusal('That mount is no longer in the order.', 409);
      if (moved.state !== 'planned')
        throw new Refusal(`${moved.specimen} mount ${moved.mount} is ${moved.state}; only what is still planned can be moved.`, 409);
      const after = moveMount(mounts, action.mount, action);
      // a place that would make a measurement impossible is refused, unless it was so before
      const [wrong] = outOfPlace(order, after);
      if (wrong && outOfPlace(order, mounts).length === 0) throw new Refusal(`${wrong.message} ${wrong.nearest}`, 409);
      return after;
    }
    case 'mark': {
      const marked = mounts.find((m) => m.specimen === action.mount.specimen && m.mount === action.mount.mount);
      if (!marked) throw new Refusal('That mount is no longer in the order.', 409);
      if (marked.state === 'failed' || marked.state === 'lost')
        throw new Refusal(`${marked.specimen} mount ${marked.mount} is marked as ${marked.state} already.`, 409);
      if (marked.state === 'done')
        throw new Refusal(
          `${marked.specimen} mount ${marked.mount} has runs; exclude it with its reason on its runs, and the plan asks for another.`,
          409,
        );
      return replaceMount(order, mounts, action.mount, action.state);
    }
    case 'unmark':
      return unmark(mounts, action.mount);
    case 'put_back':
      return putBack(mounts, action.mounts);
  }
}

/** Draws what is not done yet anew; what is done, failed or lost stays, and new mounts are counted on from it. */
async function drawRest(order: OrderPlan, mounts: PlannedMount[], made: PlanSpecimen[], seed: number): Promise<PlannedMount[]> {
  const short = dayTooShort(order);
  if (short) throw new Refusal(`${short.message} ${short.nearest}`, 400, { field: 'day_hours' });
  const wanted = order.specimens.reduce((sum, s) => sum + s.mounts, 0);
  if (wanted > MOST_MOUNTS)
    throw new Refusal(`An order takes up to ${MOST_MOUNTS} mounts; this plan has ${wanted}. Plan fewer mounts of each.`, 400, {
      field: 'mounts',
    });
  const kept = mounts.filter((m) => m.state !== 'planned');
  const days = Math.max(0, ...kept.map((m) => m.day));
  const count = (specimen: string, states: string[]) => kept.filter((m) => m.specimen === specimen && states.includes(m.state)).length;
  const rest: OrderPlan = {
    ...order,
    specimens: order.specimens.map((s) => ({ ...s, mounts: Math.max(0, s.mounts - count(s.specimen, ['done'])) })),
    day_starts_min: order.day_starts_min.slice(days).map((m) => m - dayStart(order, days + 1)),
    days: order.days === null ? null : Math.max(1, order.days - days),
  };
  if (rest.specimens.every((s) => s.mounts === 0)) {
    if (kept.length > 0) throw new Refusal('All planned mounts are done; nothing is left to order. More mounts of each would be.');
    throw new Refusal('No mount can be planned: the stock allows none.');
  }
  const drawn = await studyThreads.drawMounts({ plan: rest, seed }).catch((error: Error) => {
    if (!/come to an end/.test(error.message)) throw error;
    throw new Refusal('The order would take more than 5000 bench days. Plan fewer mounts, shorter waits, or another rig.', 400, {
      field: 'mounts',
    });
  });
  if (!drawn) throw new Refusal('One mount does not fit into a bench day.', 400, { field: 'day_hours' });
  const used = (specimen: string) => made.find((s) => s.name === specimen)?.made_mounts.map((m) => m.number) ?? [];
  const highest = (specimen: string) => Math.max(0, ...used(specimen), ...kept.filter((m) => m.specimen === specimen).map((m) => m.mount));
  const fresh = drawn.mounts.map(({ specimen, mount, rig, day, extra, state }) => ({
    ...{ specimen, rig, extra, state },
    mount: highest(specimen) + mount,
    day: days + day,
  }));
  return [...kept, ...fresh];
}

/** A mount that was marked as failed or lost is planned again; the one planned in its stead goes. */
function unmark(mounts: OrderedMount[], { specimen, mount }: MountKey): PlannedMount[] {
  const marked = mounts.find((m) => m.specimen === specimen && m.mount === mount);
  if (!marked || (marked.state !== 'failed' && marked.state !== 'lost'))
    throw new Refusal('That mount is not marked as failed or lost.', 409);
  const instead = Math.max(0, ...mounts.filter((m) => m.specimen === specimen && m.state === 'planned').map((m) => m.mount));
  return mounts
    .filter((m) => m.specimen !== specimen || m.state !== 'planned' || m.mount !== instead)
    .map((m) => (m === marked ? { ...m, state: 'planned' as const } : m));
}

/** An earlier order of the planned mounts, for undo; refused where the mounts are no longer the same. */
function putBack(mounts: OrderedMount[], places: { specimen: string; mount: number; rig: string; day: number }[]): PlannedMount[] {
  const key = (m: { specimen: string; mount: number }) => `${m.mount} ${m.specimen}`;
  const open = new Map(mounts.filter((m) => m.state === 'planned').map((m) => [key(m), m]));
  const wanted = places.filter((p) => open.has(key(p)));
  if (wanted.length !== open.size) throw new Refusal('The order has changed since; it cannot be put back.', 409);
  return [
    ...mounts.filter((m) => m.state !== 'planned'),
    ...wanted.map((p) => ({ ...(open.get(key(p)) as OrderedMount), rig: p.rig, day: p.day })),
  ];
}

async function store(
  client: Parameters<typeof replacePlannedMounts>[0],
  studyId: number,
  plan: ResolvedPlan,
  before: OrderedMount[],
  mounts: PlannedMount[],
  mark: { mount: MountKey; reason: string } | null,
): Promise<void> {
  const specimens = new Map(plan.specimens.map((s) => [s.name, s.id]));
  const rigs = new Map(plan.rigs.map((r) => [r.name, r.id]));
  const known = new Map(before.map((m) => [`${m.mount} ${m.specimen}`, m]));
  const reasons = new Map([...known].map(([key, m]) => [key, m.reason]));
  for (const m of mounts) if (m.state === 'planned') reasons.delete(`${m.mount} ${m.specimen}`);
  if (mark) reasons.set(`${mark.mount.mount} ${mark.mount.specimen}`, mark.reason);
  const rows = await many<{ id: number; name: string }>(client)`select id, name from rigs`;
  for (const r of rows) if (!rigs.has(r.name)) rigs.set(r.name, r.id);
  await replacePlannedMounts(
    client,
    studyId,
    mounts.map((m) => ({
      id: known.get(`${m.mount} ${m.specimen}`)?.id ?? null,
      specimen_id: specimens.get(m.specimen) ?? 0,
      rig_id: rigs.get(m.rig) ?? 0,
      number: m.mount,
      day: m.day,
      extra: m.extra,
      state: m.state === 'done' ? 'planned' : m.state,
      reason: reasons.get(`${m.mount} ${m.specimen}`) ?? '',
    })),
  );
}

function readAction(given: Record<string, unknown>): OrderAction {
  const whole = (v: unknown, least: number, most: number) => typeof v === 'number' && Number.isInteger(v) && v >= least && v <= most;
  const keyOf = (v: unknown): MountKey => {
    const m = v as { specimen?: unknown; mount?: unknown } | null;
    if (typeof m?.specimen !== 'string' || !whole(m.mount, 1, 100_000)) throw new Refusal('Say which mount: its specimen and number.');
    return { specimen: m.specimen, mount: m.mount as number };
  };
  switch (given.action) {
    case 'draw':
      if (!whole(given.seed, 0, 4_294_967_295)) throw new Refusal('The seed is a whole number from 0 to 4294967295.');
      return { action: 'draw', seed: given.seed as number };
    case 'move':
      if (typeof given.rig !== 'string' || !whole(given.day, 1, 5000) || !whole(given.before, 0, 5000))
        throw new Refusal('Say where to: rig, day and place.');
      return { action: 'move', mount: keyOf(given.mount), rig: given.rig, day: given.day as number, before: given.before as number };
    case 'mark': {
      const reason = typeof given.reason === 'string' ? given.reason.trim() : '';
      if (given.state !== 'failed' && given.state !== 'lost') throw new Refusal('A mount is marked as failed or lost.');
      if (reason.length < 1 || reason.length > 500) throw new Refusal('Give a reason of 1 to 500 characters: it stays in the record.');
      return { action: 'mark', mount: keyOf(given.mount), state: given.state, reason };
    }
    case 'unmark':
      return { action: 'unmark', mount: keyOf(given.mount) };
    case 'put_back': {
      if (!Array.isArray(given.mounts) || given.mounts.length > 20_000) throw new Refusal('The order to put back is a list of mounts.');
      return {
        action: 'put_back',
        mounts: given.mounts.map((m) => {
          if (typeof m?.rig !== 'string' || !whole(m.day, 1, 5000)) throw new Refusal('Each mount has its rig and day.');
          return { ...keyOf(m), rig: m.rig, day: m.day };
        }),
      };
    }
    default:
      throw new Refusal('An order is drawn, a mount moved, marked or unmarked, or an earlier order restored.');
  }
}
