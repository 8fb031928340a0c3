import type { Client } from '#app/database/pool';
import { execute, first, only } from '#app/database/query';

/** Whether a live run goes on on a mount. */
export const isLiveOn = async (db: Client, mountId: number): Promise<boolean> =>
  (await first(db)`select from live_runs where mount_id = ${mountId} and ended_at is null`) !== null;

/**
 * Puts a mount under another specimen or rig; a load that the other study does not name is forgotten by its runs.
 * @returns its number there: the one it asks for, or its own, where that is free, else the next
 */
export async function placeMount(
  db: Client,
  id: number,
  to: { specimen_id: number; rig_id: number; number: number | null },
): Promise<number> {
  await execute(db)`select from specimens where id = ${to.specimen_id} for update`;
  const { number } = await only<{ number: number }>(db)`
    update mounts m set specimen_id = ${to.specimen_id}, rig_id = ${to.rig_id},
      number = case when exists (select from mounts o where o.specimen_id = ${to.specimen_id} and o.id <> m.id
                      and o.number = coalesce(${to.number}::int, m.number))
                    then (select max(number) + 1 from mounts where specimen_id = ${to.specimen_id} and id <> m.id)
                    else coalesce(${to.number}::int, m.number) end
    where m.id = ${id} returning m.number`;
  await execute(db)`
    update runs r set load = null
    where r.mount_id = ${id} and r.load is not null and not exists (
      select from specimens sp join studies st on st.id = sp.study_id
      cross join lateral jsonb_array_elements(coalesce(st.plan -> 'loads', '[]')) l
      where sp.id = ${to.specimen_id} and l ->> 'name' = r.load)`;
  return number;
}
