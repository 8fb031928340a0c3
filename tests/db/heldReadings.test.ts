import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import type { LiveReading } from '#features/live/server/readings';
import { ReadingBuffer } from '#features/live/server/store';
import { insertSheet } from '#features/shelf/store/sheets';
import { insertMount, insertSpecimen, insertStudy } from '#features/study/store/studies';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();
const folder = mkdtempSync('/tmp/warm-gauge-held-');
let live: { id: number; started_at: Date };

beforeAll(async () => {
  process.env.WARM_GAUGE_WATCH = folder;
  const db = database();
  const rig = (await insertSheet(db, 'rigs', 'Bench', {} as never)) as number;
  const study = (await insertStudy(db, { title: 'Held', question: '', margin_k: 1, reduction: {} })) as number;
  const mount = await insertMount(db, (await insertSpecimen(db, study, 'Loam White', 'paste')) as number, rig, '');
  const { rows } = await db.query(
    `insert into live_runs (mount_id, rig_id, settings, sources, state) values ($1, $2, '{}', '[]', '{"stage": "settling"}') returning id::int, started_at`,
    [mount.id, rig],
  );
  live = rows[0];
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const buffer = (of = live) => new ReadingBuffer(of, 'Scanner', ['Die']);
const readings = (from: number, to: number): LiveReading[] =>
  Array.from({ length: to - from }, (_, i) => ({ t: from + i, values: new Map([['Die', 40 + 0.1 * (from + i)]]) }));
const stored = async () => {
  const { rows } = await database().query<{ t_from: number; t_to: number }>(
    'select t_from::float8, t_to::float8 from live_batches where live_id = $1 order by t_from',
    [live.id],
  );
  return rows.flatMap(({ t_from, t_to }) => Array.from({ length: t_to - t_from + 1 }, (_, i) => t_from + i));
};

it('what was kept outside the store comes in once, whatever of it an ended process had stored', async () => {
  const first = buffer();
  for (const r of readings(0, 10)) first.add(r);
  await first.keepOutside();
  // the process stores all of it, reads on, and ends before it clears its file
  const before = readdirSync(folder);
  expect(before).toHaveLength(1);
  const again = buffer();
  await again.recall();
  expect(await again.flush()).toBe(true);
  const late = buffer();
  for (const r of readings(0, 14)) late.add(r);
  await late.keepOutside();
  const last = buffer();
  expect((await last.recall()).map((r) => r.t)).toEqual([10, 11, 12, 13]);
  expect(await last.flush()).toBe(true);
  expect(await stored()).toEqual(readings(0, 14).map((r) => r.t));
  expect(readdirSync(folder)).toEqual([]);
});

it('a run of a store that was begun anew does not take what an older one of its number left', async () => {
  const older = buffer({ ...live, started_at: new Date(live.started_at.getTime() - 86_400_000) });
  for (const r of readings(50, 60)) older.add(r);
  await older.keepOutside();
  const own = buffer();
  expect(await own.recall()).toEqual([]);
  expect(await own.flush()).toBe(true);
  expect(await stored()).toEqual(readings(0, 14).map((r) => r.t));
});
