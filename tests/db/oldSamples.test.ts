import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { saveSettings } from '#app/settings';
import { checkStore } from '#features/bench/server/checkStore';
import { keepHouse } from '#features/bench/server/housekeeping';
import { settingsView } from '#features/bench/server/settings';
import { ImportPlan } from '#features/run/model/importPlan';
import { importRun } from '#features/run/server/importRun';
import { ageSamples, bringSamplesBack, samplesOf } from '#features/run/server/oldSamples';
import { riseBytes } from '#features/run/server/riseBytes';
import { runTrace } from '#features/run/server/runTrace';
import { runView } from '#features/run/server/runView';
import { storeTyped } from '#features/run/server/typedRun';
import { check } from '#rules/validation';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();

const logs = new URL('../reference/logs/', import.meta.url);
const runs: number[] = [];
let typed = 0;

const kept = () => Promise.all(runs.map(samplesOf));
const ofAge = (id: number, days: number) =>
  database().query('update all_runs set created_at = now() - make_interval(secs => $2) where id = $1', [id, 86_400 * days]);
const close = (id: number) => runTrace(id, null, null, 3000);
const bytes = async (id: number) =>
  (
    await database().query(
      'select sum(length(v.readings)) as n from trace_chunks v join channels c on c.id = v.channel_id where c.run_id = $1',
      [id],
    )
  ).rows[0].n;
const seen = async (id: number) => ({
  trace: await close(id),
  rise: Buffer.from(await riseBytes(id)),
  result: (await runView(id)).run.result,
});

beforeAll(async () => {
  const log = readFileSync(new URL('plain.csv', logs), 'utf8');
  for (const name of ['A', 'B', 'C']) {
    const place = {
      study_title: `Old ${name}`,
      specimen_name: 'Loam White',
      specimen_kind: 'paste',
      rig_name: `Bench ${name}`,
      rig_limit_c: 95,
    };
    const file = new TextEncoder().encode(`# ${name}\n${log}`);
    runs.push(
      (await importRun(check(ImportPlan, { import_id: randomUUID(), reading: {}, place }), [{ name: `${name}.csv`, bytes: file }])).run_id,
    );
  }
  const place = { study_title: 'Typed', specimen_name: 'Loam White', specimen_kind: 'paste', rig_name: 'By hand' };
  const texts = { mean_c: '61 °C', room_c: '22 °C' };
  typed = (await storeTyped({ import_id: randomUUID(), place, texts, throttled: 'no' })).run_id;
  await Promise.all([ofAge(runs[0], 31), ofAge(runs[1], 29.99), ofAge(typed, 900)]);
});

describe('samples of old runs', () => {
  it('are packed from their day on, and are read as before', async () => {
    const before = await seen(runs[0]);
    const size = await bytes(runs[0]);
    expect(await ageSamples({ pack_days: 30, drop_days: null })).toEqual({ packed: 1, dropped: 0 });
    expect(await kept()).toEqual(['packed', 'whole', 'whole']);
    expect(await bytes(runs[0])).toBeLessThan(size / 2);
    expect(await seen(runs[0])).toEqual(before);
    expect(await ageSamples({ pack_days: 30, drop_days: null })).toEqual({ packed: 0, dropped: 0 });
  });

  it('are dropped from theirs on: values stay, and the window and the drawing come from the log', async () => {
    const before = await seen(runs[0]);
    await ofAge(runs[1], 60);
    expect(await ageSamples({ pack_days: 30, drop_days: 60 })).toEqual({ packed: 0, dropped: 1 });
    expect(await kept()).toEqual(['packed', 'dropped', 'whole']);
    expect(await ageSamples({ pack_days: 10, drop_days: 31 })).toEqual({ packed: 0, dropped: 1 });
    expect(await kept()).toEqual(['dropped', 'dropped', 'whole']);
    const after = await seen(runs[0]);
    expect(await bytes(runs[0])).toBeNull();
    expect(after.result).toEqual(before.result);
    expect(after.rise.equals(before.rise)).toBe(true);
    const part = Buffer.from(await riseBytes(runs[0], 700, 720));
    await bringSamplesBack(runs[0]);
    expect(part.equals(Buffer.from(await riseBytes(runs[0], 700, 720)))).toBe(true);
    expect(part.length).toBeGreaterThan(8);
    await ageSamples({ pack_days: null, drop_days: 1 });
    expect(after.trace).toEqual(before.trace);
    // from afar it is drawn from what stayed of it in the store
    expect((await runTrace(runs[0], null, null, 4)).lines[0].v.some((v) => v !== null)).toBe(true);
    expect((await checkStore({ quick: false, say: () => {} })).wrong).toEqual([]);
  });

  it('come back from the log as they were, and count as new from then on', async () => {
    const whole = await seen(runs[2]);
    await ofAge(runs[2], 100);
    await ageSamples({ pack_days: null, drop_days: 99 });
    expect(await samplesOf(runs[2])).toBe('dropped');
    await bringSamplesBack(runs[2]);
    expect(await seen(runs[2])).toEqual(whole);
    expect(await ageSamples({ pack_days: 50, drop_days: 99 })).toEqual({ packed: 0, dropped: 0 });
    expect(await samplesOf(runs[2])).toBe('whole');
    await expect(bringSamplesBack(typed)).rejects.toThrow('was typed');
  });

  it('are aged by two processes at once without harm, and not by one that stops', async () => {
    await database().query("update run_samples set since = now() - interval '1 year'");
    const stopped = AbortSignal.abort();
    expect(await ageSamples({ pack_days: 30, drop_days: 200 }, stopped)).toEqual({ packed: 0, dropped: 0 });
    const both = await Promise.all([ageSamples({ pack_days: 30, drop_days: null }), ageSamples({ pack_days: 30, drop_days: null })]);
    expect(both[0].packed + both[1].packed).toBe((await kept()).filter((s) => s === 'packed').length);
    expect(await kept()).not.toContain('whole');
    expect((await checkStore({ quick: false, say: () => {} })).wrong).toEqual([]);
  });

  it('are aged every hour as the lab says', async () => {
    await expect(saveSettings({ pack_days: 400, drop_days: 400 })).rejects.toThrow('never packed');
    await bringSamplesBack(runs[1]);
    await ofAge(runs[1], 2000);
    await database().query("update run_samples set since = now() - interval '500 days'");
    await keepHouse();
    expect(await samplesOf(runs[1])).toBe('whole');
    await saveSettings({ pack_days: 30, drop_days: 400 });
    await keepHouse();
    expect(await samplesOf(runs[1])).toBe('dropped');
    const { samples } = await settingsView();
    expect(samples.dropped + samples.packed).toBe(3);
  });
});
