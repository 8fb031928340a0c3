import type { Client } from '#app/database/pool';
import { many } from '#app/database/query';
import type { MaterialSheet } from '#features/shelf/model/sheets';

/** Sheets of some materials, by their numbers. */
export const listSheetsOf = (db: Client, ids: number[]) =>
  many<{ id: number; name: string; sheet: MaterialSheet }>(db)`
    select id, name, sheet from materials where id = any (${ids}::bigint[]) order by id`;

/** Numbers of all studies in the order they were opened. */
export const listStudyIds = async (db: Client): Promise<number[]> =>
  (await many<{ id: number }>(db)`select id from studies order by id`).map((s) => s.id);
