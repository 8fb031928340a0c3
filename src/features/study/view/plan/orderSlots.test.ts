import { describe, expect, it } from 'vitest';
import { moveMount } from '#core/design/changeOrder';
import type { PlannedMount } from '#core/design/orderTypes';
import { keyOf, type OrderSlot, slotOf, stepPlace } from './orderSlots';

const rows = [1, 2, 3].flatMap((day) => ['N', 'S'].map((rig) => ({ rig, day })));
const mounts: PlannedMount[] = rows.flatMap(({ rig, day }) =>
  ['A', 'B'].map((specimen) => ({
    specimen: `${specimen}${rig}`,
    mount: day,
    rig,
    day,
    extra: false,
    state: day === 1 && specimen === 'A' ? 'done' : 'planned',
  })),
);
const [, bn1] = mounts;

describe('a held mount', () => {
  const walk = (keys: string[], mount: PlannedMount): OrderSlot =>
    keys.reduce((at, key) => stepPlace(key, at, rows, mounts, keyOf(mount)) ?? at, slotOf(mounts, mount));
  it('walks along its day and over its ends to the days beside it on the same rig', () => {
    expect(walk(['ArrowRight'], bn1)).toEqual({ rig: 'N', day: 2, before: 0 });
    expect(walk(['ArrowRight', 'ArrowRight', 'ArrowRight', 'ArrowRight'], bn1)).toEqual({ rig: 'N', day: 3, before: 0 });
    expect(walk(['ArrowRight', 'ArrowLeft'], bn1)).toEqual({ rig: 'N', day: 1, before: 0 });
    expect(walk(['ArrowLeft'], bn1)).toEqual({ rig: 'N', day: 1, before: 0 });
  });
  it('goes up and down from row to row, and no further than the first and last', () => {
    expect(walk(['ArrowDown'], bn1)).toEqual({ rig: 'S', day: 1, before: 0 });
    expect(walk(['ArrowDown', 'ArrowDown', 'ArrowUp'], bn1)).toEqual({ rig: 'S', day: 1, before: 0 });
    expect(walk(['ArrowUp', 'ArrowUp'], bn1)).toEqual({ rig: 'N', day: 1, before: 0 });
    expect(walk(Array(20).fill('ArrowDown'), bn1)).toMatchObject({ rig: 'S', day: 3 });
  });
  it('comes to stand where its place says', () => {
    const to = walk(['ArrowRight', 'ArrowRight'], bn1);
    const moved = moveMount(mounts, bn1, to);
    expect(moved.filter((m) => m.rig === 'N' && m.day === 2).map((m) => m.specimen)).toEqual(['AN', 'BN', 'BN']);
    expect(slotOf(moved, { ...bn1, day: 2 })).toEqual(to);
  });
});
