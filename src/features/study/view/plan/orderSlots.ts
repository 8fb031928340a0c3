import type { PlannedMount } from '#core/design/orderTypes';

/** Where a mount stands: rig, day, and how many planned ones come before it there. */
export interface OrderSlot {
  rig: string;
  day: number;
  before: number;
}

export const keyOf = (m: { specimen: string; mount: number }) => `${m.specimen}\n${m.mount}`;

/** Planned mounts of a rig's day in their order. */
export const plannedAt = (mounts: PlannedMount[], rig: string, day: number, without?: string): PlannedMount[] =>
  mounts.filter((m) => m.rig === rig && m.day === day && m.state === 'planned' && keyOf(m) !== without);

/** Place of a planned mount in an order. */
export const slotOf = (mounts: PlannedMount[], mount: PlannedMount): OrderSlot => ({
  rig: mount.rig,
  day: mount.day,
  before: plannedAt(mounts, mount.rig, mount.day).findIndex((m) => keyOf(m) === keyOf(mount)),
});

/**
 * Where an arrow key takes a mount that is held: left and right along its day, on over its ends to the day before or after on the same rig;
 * up and down to the row above or below.
 */
export function stepPlace(
  key: string,
  at: OrderSlot,
  rows: { rig: string; day: number }[],
  mounts: PlannedMount[],
  held: string,
): OrderSlot | null {
  const row = rows.findIndex((r) => r.rig === at.rig && r.day === at.day);
  const length = (r: { rig: string; day: number }) => plannedAt(mounts, r.rig, r.day, held).length;
  const sameRig = rows.filter((r) => r.rig === at.rig);
  const own = sameRig.findIndex((r) => r.day === at.day);
  switch (key) {
    case 'ArrowLeft': {
      if (at.before > 0) return { ...at, before: at.before - 1 };
      const previous = sameRig[own - 1];
      return previous ? { ...previous, before: length(previous) } : null;
    }
    case 'ArrowRight': {
      if (at.before < length(at)) return { ...at, before: at.before + 1 };
      const next = sameRig[own + 1];
      return next ? { ...next, before: 0 } : null;
    }
    case 'ArrowUp':
    case 'ArrowDown': {
      const next = rows[row + (key === 'ArrowUp' ? -1 : 1)];
      return next ? { rig: next.rig, day: next.day, before: Math.min(at.before, length(next)) } : null;
    }
    default:
      return null;
  }
}
