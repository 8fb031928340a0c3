import type { Client } from '#app/database/pool';
import { only } from '#app/database/query';

/** Bytes of logs that were stored on the busiest of the last thirty days; 0 where none was. */
export const busiestDayBytes = async (db: Client) =>
  (
    await only<{ bytes: number }>(db)`
      select coalesce(max(d.bytes), 0)::bigint as bytes from (
        select sum(length(p.bytes)) as bytes from log_files f join log_file_pieces p on p.file_id = f.id
        where f.created_at > now() - interval '30 days' group by f.created_at::date) d`
  ).bytes;

/** When the store was made. */
export const storeMadeAt = async (db: Client) => (await only<{ at: Date }>(db)`select min(run_on) as at from migrations`).at;
