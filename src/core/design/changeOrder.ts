import type { OrderPlan, PlannedMount } from './orderTypes';
import { timeOrder } from './timeline';

/** Names one mount of an order. */
export interface MountKey {
  specimen: string;
  mount: number;
}

const is = (key: MountKey) => (m: PlannedMount) => m.specimen === key.specimen && m.mount === key.mount;

/**
 * Moves a mount that is not done yet to another place.
 * @param to rig and day, and how many of the mounts still planned there come before it
 * @returns the new order; the same where the mount is done, or not there
 */
export function moveMount<M extends PlannedMount>(mounts: M[], key: MountKey, to: { rig: string; day: number; before: number }): M[] {
  const moved = mounts.find(is(key));
  if (moved?.state !== 'planned') return mounts;
  const rest = mounts.filter((m) => m !== moved);
  const there = rest.filter((m) => m.rig === to.rig && m.day === to.day && m.state === 'planned');
  const next = there[to.before];
  const placed = { ...moved, rig: to.rig, day: to.day };
  if (next) {
    const at = rest.indexOf(next);
    return [...rest.slice(0, at), placed, ...rest.slice(at)];
  }
  const last = there.at(-1) ?? rest.filter((m) => m.rig === to.rig && m.day <= to.day).at(-1);
  const at = last ? rest.indexOf(last) + 1 : 0;
  return [...rest.slice(0, at), placed, ...rest.slice(at)];
}

/**
 * Plans a mount anew that failed or was lost. What is done stays where it is, and the rest keeps its order: the new mount comes as early as
 * its specimen may, on the same rig, and what no longer fits into its day moves on to the next.
 * @returns the new order, the old mount kept in it as failed or lost
 */
export function replaceMount(plan: OrderPlan, mounts: PlannedMount[], key: MountKey, state: 'failed' | 'lost'): PlannedMount[] {
  const old = mounts.find(is(key));
  if (!old || old.state === 'failed' || old.state === 'lost') return mounts;
  const marked = mounts.map((m) => (m === old ? { ...m, state } : m));
  const number = Math.max(...mounts.filter((m) => m.specimen === key.specimen).map((m) => m.mount)) + 1;
  const isLate = ({ specimen }: { specimen: string }) => plan.specimens.some((s) => s.specimen === specimen && (s.last || s.permanent));
  const late = isLate(key);
  const pending = marked.filter((m) => m.rig === old.rig && m.state === 'planned' && m.day >= old.day);
  const today = pending.filter((m) => m.day === (pending[0]?.day ?? old.day));
  // behind what is planned for its day, but before the closing reference, and before late ones where it is not one of them
  const behind = today.findIndex((m) => (isLate(m) && !late) || (m === today.at(-1) && m.extra && today.length > 1));
  const next = behind >= 0 ? today[behind] : undefined;
  const day = today[0]?.day ?? Math.max(old.day, ...marked.filter((m) => m.rig === old.rig).map((m) => m.day));
  const fresh: PlannedMount = { specimen: old.specimen, mount: number, rig: old.rig, day, extra: old.extra, state: 'planned' };
  const at = next ? marked.indexOf(next) : marked.indexOf(today.at(-1) ?? old) + 1;
  return settleDays(plan, [...marked.slice(0, at), fresh, ...marked.slice(at)]);
}

/** Moves planned mounts that do not end within their day to the next one of their rig, until all fit or a single mount is too long. */
function settleDays(plan: OrderPlan, mounts: PlannedMount[]): PlannedMount[] {
  let list = mounts;
  for (let round = 0; round < 2 * mounts.length; round++) {
    const timed = timeOrder(plan, list);
    const late = timed.find(
      (t) => !t.fits && t.state === 'planned' && timed.some((o) => o.rig === t.rig && o.day === t.day && o.slot < t.slot),
    );
    if (!late) return list;
    const from = list.findIndex(is(late));
    list = list.map((m, i) =>
      i >= from && m.rig === late.rig && m.day === late.day && m.state === 'planned' ? { ...m, day: m.day + 1 } : m,
    );
  }
  return list;
}
