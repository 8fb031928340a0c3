import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { database, transaction } from '#app/database/pool';
import { checkStore } from '#features/bench/server/checkStore';
import { picture, savePhotograph } from '#features/mount/server/photographs';
import { freezeReport, frozenReport } from '#features/report/server/freeze';
import { soundClip } from '#features/results/server/soundClips';
import { insertSoundClip } from '#features/results/store/soundClips';
import { ImportPlan } from '#features/run/model/importPlan';
import { importRun } from '#features/run/server/importRun';
import { readAgain } from '#features/run/server/readAgain';
import { originalFile } from '#features/run/server/runView';
import { storeTable } from '#features/run/server/typedTable';
import { check } from '#rules/validation';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();

const logs = new URL('../reference/logs/', import.meta.url);
const ids = { run: 0, mount: 0, photograph: 0, clip: 0, study: 0, other: 0, address: '' };
const run = (statement: string, values: unknown[] = []) => database().query(statement, values);
const looked = async (quick = true) => (await checkStore({ quick, say: () => {} })).wrong;
const count = async (of: string) => Number((await run(`select count(*) as n from ${of}`)).rows[0].n);

async function all(pieces: AsyncIterable<Buffer>): Promise<Buffer> {
  const parts: Buffer[] = [];
  for await (const part of pieces) parts.push(part);
  return Buffer.concat(parts);
}

beforeAll(async () => {
  const place = { study_title: 'Whole', specimen_name: 'Loam White', specimen_kind: 'paste', rig_name: 'Bench', rig_limit_c: 95 };
  const bytes = new Uint8Array(readFileSync(new URL('plain.csv', logs)));
  const stored = await importRun(check(ImportPlan, { import_id: randomUUID(), reading: {}, place }), [{ name: 'plain.csv', bytes }]);
  const [{ mount_id, specimen_id }] = (
    await run('select r.mount_id, m.specimen_id from runs r join mounts m on m.id = r.mount_id where r.id = $1', [stored.run_id])
  ).rows;
  Object.assign(ids, { run: stored.run_id, mount: mount_id, study: stored.study_id });
  const jpeg = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#a0a0a0' } })
    .jpeg()
    .toBuffer();
  ids.photograph = (await savePhotograph(mount_id, jpeg, {}, null)).id;
  const clip = {
    specimen_id,
    name: 'hum.wav',
    kind: 'audio/wav' as const,
    rpm: 900,
    level_db: 30,
    note: '',
    bytes: new Uint8Array([1, 2, 3]),
  };
  ids.clip = Number(await insertSoundClip(database(), clip, 5));
  const row = (specimen: string, mount: number, mean: string) => ({
    ...{ import_id: randomUUID(), specimen, mount, texts: { mean_c: mean, room_c: '21' }, throttled: 'no' },
  });
  const rows = [row('A', 1, '61'), row('A', 2, '61.4'), row('B', 1, '58'), row('B', 2, '58.3')];
  const table = await storeTable({ study_title: 'Frozen', kind: 'paste', rig: 'Typed', rows });
  ids.other = table.study_id;
  ids.address = (await freezeReport(table.study_id, { insist: true })).address;
});

describe('a store as it should be', () => {
  it('agrees in all, and every run reads from its files as it is stored', async () => {
    const { looked: what, wrong } = await checkStore({ quick: false, say: () => {} });
    expect(wrong).toEqual([]);
    expect(what.find((l) => l.name === 'log files')).toMatchObject({ count: 1 });
    expect(what.find((l) => l.name === 'runs read anew')).toMatchObject({ count: 5 });
  });
});

/** Does damage, hands on what follows, and puts all back as it was. */
async function damaged(damage: string[], repair: string[], then: () => Promise<void>): Promise<void> {
  for (const statement of damage) await run(statement);
  try {
    await then();
  } finally {
    for (const statement of repair) await run(statement);
  }
}

describe('what is damaged', () => {
  const flip = (column: string) => `set_byte(${column}, length(${column}) / 2, get_byte(${column}, length(${column}) / 2) # 1)`;

  it('in a log is named, and nothing is read from it', async () => {
    const change = `update log_file_pieces set bytes = ${flip('bytes')}`;
    const whole = await all((await originalFile(ids.run, 0)).pieces);
    await damaged([change], [change], async () => {
      expect(await looked()).toEqual([{ thing: 'File plain.csv', wrong: expect.stringContaining('not those that were stored') }]);
      await expect(originalFile(ids.run, 0).then(({ pieces }) => all(pieces))).rejects.toMatchObject({ status: 500 });
      await expect(readAgain(ids.run)).rejects.toThrow('plain.csv is damaged in the store');
    });
    expect((await all((await originalFile(ids.run, 0)).pieces)).equals(whole)).toBe(true);
  });

  it('in a log that lost a piece is named too', async () => {
    const lose = 'update log_file_pieces set piece = piece + 1';
    await damaged([lose], ['update log_file_pieces set piece = piece - 1'], async () => {
      expect((await looked()).map((w) => w.thing)).toEqual(['File plain.csv']);
    });
  });

  it('in a photograph or a clip is named, and not shown', async () => {
    for (const [table, column, read, thing] of [
      ['photographs', 'jpeg', () => picture(ids.photograph, 'photograph', true), /^Photograph 1 of mount 1$/],
      ['sound_clips', 'bytes', () => soundClip(ids.clip), /^Clip 1, hum.wav$/],
    ] as const) {
      await read();
      const [{ sha256 }] = (await run(`select sha256 from ${table}`)).rows;
      await run(`alter table ${table} alter column sha256 drop expression`);
      await run(`update ${table} set ${column} = ${flip(column)}`);
      expect(await looked()).toEqual([{ thing: expect.stringMatching(thing), wrong: expect.stringContaining('not those') }]);
      await expect(read()).rejects.toMatchObject({ status: 500 });
      await run(`update ${table} set ${column} = ${flip(column)}, sha256 = $1`, [sha256]);
      await read();
    }
  });

  it('in a published report is named, and said on its page', async () => {
    const [{ content }] = (await run('select content from reports')).rows;
    await run(`update reports set content = replace(content, '61', '62')`);
    expect((await looked()).map((w) => w.thing)).toEqual([`Report ${ids.address}`]);
    expect((await frozenReport(ids.address)).intact).toBe(false);
    await run(`update reports set content = left(content, 40)`);
    await expect(frozenReport(ids.address)).rejects.toMatchObject({ status: 500 });
    await run('update reports set content = $1', [content]);
    expect((await frozenReport(ids.address)).intact).toBe(true);
  });

  it('in figures, traces or findings is named', async () => {
    const rise = (by: number) => `update runs set rise_k = rise_k + ${by} where id = ${ids.run}`;
    await damaged([rise(0.25)], [rise(-0.25)], async () => {
      expect(await looked()).toEqual([{ thing: `Run ${ids.run}`, wrong: expect.stringContaining('are not those of its reading') }]);
    });
    const both = (by: number) =>
      `update runs set rise_k = rise_k + ${by}, result = jsonb_set(result, '{rise_k}', to_jsonb(rise_k + ${by})) where id = ${ids.run}`;
    await damaged([both(0.25)], [both(-0.25)], async () => {
      expect(await looked()).toEqual([]);
      expect(await looked(false)).toEqual([
        {
          thing: expect.stringContaining('Loam White, mount 1'),
          wrong: expect.stringMatching(/^rise_k is stored as .*, and reads .* from its files$/),
        },
      ]);
    });
    await damaged(['update trace_chunks set chunk = chunk + 1'], ['update trace_chunks set chunk = chunk - 1'], async () => {
      expect((await looked()).every((w) => w.wrong.includes('has a gap'))).toBe(true);
      expect((await looked()).length).toBeGreaterThan(0);
    });
    await damaged([`update runs set waits = 2 where id = ${ids.run}`], [`update runs set waits = 0 where id = ${ids.run}`], async () => {
      expect((await looked()).map((w) => w.wrong)).toEqual(['what it waits for is 2, its findings say 0']);
    });
    expect(await looked()).toEqual([]);
  });
});

describe('a row that says what cannot be', () => {
  const one = `where id = (select max(id) from runs)`;
  it.each([
    ['valid without a value', `update runs set rise_k = null ${one}`],
    ['a resistance that stands, without a value', `update runs set r_valid = true, r_k_per_w = null ${one}`],
    ['an infinite rise', `update runs set rise_k = 'Infinity' ${one}`],
    ['a rise that is no number', `update runs set rise_k = 'NaN' ${one}`],
    ['an uncertainty below nothing', `update runs set se_k = -0.1 ${one}`],
    ['a bound that is valid', `update runs set censored = true ${one}`],
    ['a reference of another study', `update studies set reference_id = (select max(id) from specimens) where id = ${1}`],
    [
      'a planned mount of another study',
      `insert into planned_mounts (study_id, specimen_id, rig_id, number, day, position, extra)
       select 1, (select max(id) from specimens), (select max(id) from rigs), 1, 1, 0, false`,
    ],
  ])('%s is refused', async (_, statement) => {
    const before = await count('planned_mounts');
    await expect(run(statement)).rejects.toMatchObject({ code: expect.stringMatching(/^23(503|514)$/) });
    expect(await count('planned_mounts')).toBe(before);
  });

  it('but a run of a study that asks for no rise stands without one, and so does a ladder', async () => {
    const stands = transaction(async (client) => {
      await client.query(`update runs set rise_k = null, options = options || '{"rise_wanted": false}' ${one}`);
      await client.query(`update runs set options = '{}', result = result || '{"ladder": []}' ${one}`);
      throw new Error('taken, and put back');
    });
    await expect(stands).rejects.toThrow('taken, and put back');
  });
});
