import type { Client } from '#app/database/pool';
import { execute, many } from '#app/database/query';

/** Whether the demo was begun and not finished. */
export async function isDemoUnfinished(db: Client): Promise<boolean> {
  const rows = await many(db)`select from demo_loads where finished_at is null`;
  return rows.length > 0;
}

export const beginDemo = (db: Client) => execute(db)`insert into demo_loads default values`;

export const finishDemo = (db: Client) => execute(db)`update demo_loads set finished_at = now() where finished_at is null`;

export const forgetDemo = (db: Client) => execute(db)`delete from demo_loads`;
