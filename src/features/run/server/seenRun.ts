import { isDeepStrictEqual } from 'node:util';
import { listChanges } from '#app/database/changes';
import type { Client } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { refuseUnseen } from '#app/seen';
import { judgementWords } from '#features/run/model/judgement';
import type { PlacedRun } from '#features/run/store/runs';

/**
 * Refuses to decide about a run that somebody else decided about since it was looked at.
 * @param given what was sent; `seen` is the number of the newest entry of the run's journal that was shown, 0 for none
 */
export async function refuseUnseenRun(db: Client, id: number, given: Record<string, unknown>): Promise<void> {
  const last = (await listChanges(db, 'run', id)).at(-1);
  const did = last ? `${judgementWords(last.action)}${last.reason ? `: “${last.reason}”` : ''}` : 'none';
  refuseUnseen(given, last?.id ?? 0, `${last?.who || 'Somebody else'} changed this run since this page was loaded (${did}).`);
}

/** Refuses to store a reading that was made from what the run was before somebody else changed it. */
export function refuseReadMeanwhile(before: PlacedRun, now: PlacedRun): void {
  const asRead = ({ reading, options, mount_id, typed }: PlacedRun) => ({ reading, options, mount_id, typed });
  if (!isDeepStrictEqual(asRead(before), asRead(now)))
    throw new Refusal('Somebody else changed how this run is read meanwhile. Nothing was overwritten; reload to see it.', 409);
}
