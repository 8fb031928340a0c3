import type { Client } from '#app/database/pool';

/** Whether the demo was begun and not finished. */
export async function isDemoUnfinished(db: Client): Promise<boolean> {
  const { rows } = await db.query('select from demo_loads where finished_at is null');
  return rows.length > 0;
}

export async function beginDemo(db: Client): Promise<void> {
  await db.query('insert into demo_loads default values');
}

export async function finishDemo(db: Client): Promise<void> {
  await db.query('update demo_loads set finished_at = now() where finished_at is null');
}

export async function forgetDemo(db: Client): Promise<void> {
  await db.query('delete from demo_loads');
}
