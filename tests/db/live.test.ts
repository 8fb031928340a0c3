import { appendFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { reduceLogs } from '#core/signal/reduce/reduceLogs';
import { takePush } from '#features/live/server/ingest';
import { liveView } from '#features/live/server/liveView';
import { orderLive, startLive } from '#features/live/server/startLive';
import { Supervisor } from '#features/live/server/supervisor';
import { listBatches } from '#features/live/store/live';
import { getRun } from '#features/run/store/runs';
import { insertSheet } from '#features/shelf/store/sheets';
import { NORTH_BENCH } from '#simulator/rigs';
import type { InstrumentFault } from '#simulator/scpi';
import { type RunningBench, startBench } from '#simulator/startSimulator';
import { onFreshDatabase } from '../database';
import { stockLive, until } from '../liveBench';

onFreshDatabase();
const SETTING = { rig: NORTH_BENCH, interface_k_per_w: 0.06, room_c: 22, seed: 5, port: null };
let bench: RunningBench;
let supervisor: Supervisor;
const opened: number[] = [];

async function begin(speed: number, given: Parameters<typeof stockLive>[1] = { speed }, run: Record<string, unknown> = {}) {
  bench = await startBench({ ...SETTING, speed });
  const stock = await stockLive(bench, { push: '', ...given });
  supervisor = new Supervisor();
  supervisor.start();
  const { id } = await startLive({ mount_id: stock.mount, cycles: 1, ...run });
  opened.push(id);
  return { ...stock, id };
}
const view = (id: number) => liveView(id);
const health = async (id: number, name: string) => (await view(id)).health[name];
const seenBy = async (id: number, who: string) =>
  (
    await database().query<{ code: string }>('select code from live_alarms where live_id = $1 and acknowledged_by = $2', [id, who])
  ).rows.map((r) => r.code);
const refusal = async (id: number, source: string, code: string) =>
  (await view(id)).refusals.find((r) => r.source === source && r.code === code);

afterEach(async () => {
  for (const id of opened.splice(0))
    await database().query('update live_runs set ended_at = now() where id = $1 and ended_at is null', [id]);
  await supervisor?.stop();
  await bench?.stop();
});

describe('a live run of the simulated bench, sixty times as fast', () => {
  let folder: string;
  beforeAll(() => {
    folder = mkdtempSync('/tmp/warm-gauge-logs-');
    process.env.WARM_GAUGE_LOGS = folder;
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  it('goes from pre-flight to "next: remount" and ends with the value of its log, within the standard error', async () => {
    const speed = 60;
    bench = await startBench({ ...SETTING, speed, host: { file: path.join(folder, 'bench.csv'), period_s: 1 } });
    const stock = await stockLive(bench, { speed, push: '' });
    const card = await insertSheet(database(), 'instruments', 'Card log', {
      address: 'file:bench.csv',
      channels: 'Clock: clock MHz; Throttling: throttle',
    } as never);
    await database().query(
      `update rigs set sheet = jsonb_set(sheet, '{instruments}', sheet -> 'instruments' || to_jsonb($2::int)) where id = $1`,
      [stock.rig, card],
    );
    supervisor = new Supervisor();
    supervisor.start();
    const { id } = await startLive({ mount_id: stock.mount, cycles: 1 });
    opened.push(id);
    await until(
      async () => (await view(id)).checks.length > 0 && (await view(id)).checks.every((c) => c.state !== 'wrong'),
      'a sound pre-flight',
    );
    expect((await view(id)).checks.map((c) => c.key)).toEqual(
      expect.arrayContaining(['sensor', 'ambient', 'cooled', 'fan', 'power', 'source:Card log']),
    );
    await orderLive(id, { kind: 'begin' });
    const seen = new Set<string>();
    const forecasts = new Set<string>();
    const over = await until(async () => {
      const v = await view(id);
      seen.add(v.state.stage);
      if (v.forecast) forecasts.add(v.state.stage);
      return v.over ? v : null;
    }, 'the end of the run');
    expect([...seen]).toEqual(expect.arrayContaining(['idle', 'settling', 'averaging', 'cooldown', 'finished']));
    expect(forecasts.size).toBeGreaterThan(0);
    expect(over.state.waits).toBe('Next: remount.');
    const [cycle] = over.cycles;
    expect(cycle.problem).toBeNull();
    const run = await getRun(database(), cycle.run_id as number);
    expect(run?.valid).toBe(true);
    expect(run?.files).toHaveLength(5);
    // the card's own log of the same time, with the room as the scanner read it, read from the file
    const rows = readFileSync(path.join(folder, 'bench.csv'), 'utf8').trim().split('\n');
    const bytes = new TextEncoder().encode(`${rows.join('\n')}\n`);
    const log = reduceLogs(
      [{ name: 'bench.csv', bytes }],
      { roles: { 'Core 2': 'ignore' } },
      { room_c: run?.result.ambient_c?.mean ?? 22, limit_c: 92 },
    ).reduction;
    const die = run?.result.sensors.find((s) => s.name === 'Die 1');
    const se = Math.hypot(log.se_k ?? 0, die?.se_k ?? 0);
    expect(Math.abs((log.rise_k ?? 0) - (die?.rise_k ?? 99))).toBeLessThan(2 * se + 0.02);
    // and the very readings that were taken, read as files, give the very value
    const { rows: kept } = await database().query<{ name: string; bytes: Buffer }>(
      `select r.name, string_agg(p.bytes, ''::bytea order by p.piece) as bytes from run_files r join log_files f on f.sha256 = r.sha256
       join log_file_pieces p on p.file_id = f.id where r.run_id = $1 group by r.name, r.position order by r.position`,
      [cycle.run_id],
    );
    const again = reduceLogs(
      kept.map((f) => ({ name: f.name, bytes: new Uint8Array(f.bytes) })),
      run?.reading as never,
      run?.options as never,
    ).reduction;
    expect(again.rise_k).toBeCloseTo(run?.rise_k ?? 0, 9);
    // what the machine showed last is that value, too
    expect(Math.abs((over.state.window?.rise_k ?? 0) - (run?.rise_k ?? 99))).toBeLessThan(3 * (run?.se_k ?? 0));
  });

  it('a log that is on another clock, or has no such column, is told', async () => {
    writeFileSync(path.join(folder, 'other.csv'), 'Time,Part (°C)\n');
    bench = await startBench({ ...SETTING, speed: 1 });
    const stock = await stockLive(bench, { speed: 1, push: '' });
    const hour = Date.now() - 3_600_000;
    const row = (s: number) => `${new Date(hour + 1000 * s).toISOString()},31.${s}\n`;
    const add = async (name: string, sheet: Record<string, unknown>) => {
      const card = await insertSheet(database(), 'instruments', name, sheet as never);
      await database().query(
        `update rigs set sheet = jsonb_set(sheet, '{instruments}', sheet -> 'instruments' || to_jsonb($2::int)) where id = $1`,
        [stock.rig, card],
      );
    };
    await add('Hour off', { address: 'file:other.csv', channels: 'Part: sensor °C' });
    await add('No column', { address: 'file:other.csv', channels: 'Elsewhere: coolant °C' });
    await add('No file', { address: 'file:nowhere.csv', channels: 'Gone: coolant °C' });
    supervisor = new Supervisor();
    supervisor.start();
    const { id } = await startLive({ mount_id: stock.mount });
    opened.push(id);
    for (let s = 0; s < 4; s++) {
      appendFileSync(path.join(folder, 'other.csv'), row(s));
      await new Promise((done) => setTimeout(done, 300));
    }
    expect((await until(() => refusal(id, 'Hour off', 'other_clock'), 'the other clock')).message).toMatch(
      /Its clock is 3[56]\d\d s behind the run's; that much is added/,
    );
    expect((await until(() => refusal(id, 'No column', 'no_channel'), 'the missing column')).message).toContain('Elsewhere');
    expect((await until(() => refusal(id, 'No file', 'unreadable'), 'the missing file')).message).toContain('There is no file nowhere.csv');
    const part = (await listBatches(database(), id, 0)).filter((b) => b.source === 'Hour off');
    expect(part.length).toBeGreaterThan(0);
    expect(part[0].t[0]).toBeLessThan(10);
  });
});

describe('an instrument that misbehaves', () => {
  const cases: { fault: InstrumentFault; code: string; says: RegExp }[] = [
    { fault: 'drop', code: 'dropped', says: /cut/ },
    { fault: 'slow', code: 'timeout', says: /No answer to .+ within 1 s/ },
    { fault: 'silent', code: 'timeout', says: /No answer/ },
    { fault: 'garbage', code: 'nonsense', says: /not a number|holds/ },
    { fault: 'nan', code: 'not_a_number', says: /no reading/ },
    { fault: 'overrange', code: 'over_range', says: /out of its range/ },
    { fault: 'wrong_unit', code: 'wrong_unit', says: /figures in PA, where its sheet says W/ },
  ];
  it('is told and counted for each of its faults, leaves a gap, and is read again when it is well; the others go on', async () => {
    const { id, name } = await begin(5);
    await until(async () => (await health(id, name('power')))?.newest_s, 'readings');
    for (const { fault, code, says } of cases) {
      bench.fault(`power:${fault}`, true);
      const told = await until(() => refusal(id, name('power'), code), `the refusal of ${fault}`);
      expect(told.message, fault).toMatch(says);
      const before = (await view(id)).health;
      const after = await until(async () => {
        const { health } = await view(id);
        return (health[name('thermometer')].newest_s ?? 0) > (before[name('thermometer')].newest_s ?? 0) + 10 ? health : null;
      }, `readings of the others during ${fault}`);
      bench.fault(`power:${fault}`, false);
      await until(async () => {
        const h = await health(id, name('power'));
        return h.connected && h.problem === null && (h.newest_s ?? 0) > (after[name('power')].newest_s ?? 0);
      }, `recovery from ${fault}`);
    }
    // no figure that is none was stored
    const batches = (await listBatches(database(), id, 0)).filter((b) => b.source === name('power'));
    const values = batches.flatMap((b) => Array.from(b.channels[0].values));
    expect(values.some((v) => Number.isNaN(v))).toBe(true);
    expect(values.filter((v) => !Number.isNaN(v)).every((v) => v > 5 && v < 200)).toBe(true);
  });

  it('another device at its address is not read', async () => {
    bench = await startBench({ ...SETTING, speed: 5 });
    bench.fault('thermometer:other_device', true);
    const stock = await stockLive(bench, { speed: 5, push: '' });
    supervisor = new Supervisor();
    supervisor.start();
    const { id } = await startLive({ mount_id: stock.mount });
    opened.push(id);
    const told = await until(() => refusal(id, stock.name('thermometer'), 'other_device'), 'the other device');
    expect(told.message).toContain('answers "Thornmere,Borrowed meter,000,1.0"; the sheet expects "Scanner 20"');
    expect((await health(id, stock.name('thermometer'))).newest_s).toBeNull();
    const checks = await until(async () => ((await view(id)).checks.length > 0 ? (await view(id)).checks : null), 'the checks');
    expect(checks.find((c) => c.key === 'sensor')?.state).toBe('wrong');
    await expect(orderLive(id, { kind: 'begin' })).rejects.toThrow('Fix it, or give a reason to start anyway.');
    bench.fault('thermometer:other_device', false);
    await until(async () => (await health(id, stock.name('thermometer'))).newest_s, 'the right device');
  });

  it('raises an alarm under load for each fault, which ends with it and keeps who saw it', async () => {
    const speed = 40;
    bench = await startBench({ ...SETTING, speed });
    const stock = await stockLive(bench, { speed, push: '', rig: { stop_c: 150 } });
    // never flat enough, so that the load goes on until the faults are through
    await database().query(`update studies set reduction = '{"slope_k_per_min": 1e-6}' where id = $1`, [stock.study]);
    supervisor = new Supervisor();
    supervisor.start();
    const { id } = await startLive({ mount_id: stock.mount, cycles: 1 });
    opened.push(id);
    bench.fault('no_start', true);
    await until(async () => (await view(id)).checks.length > 0, 'the checks');
    await orderLive(id, { kind: 'begin', reason: 'test' });
    const lasting = async (code: RegExp) => (await view(id)).alarms.find((a) => code.test(a.code) && a.ended_at === null);
    const told = await until(() => lasting(/^no_start$/), 'the load that does not start');
    expect(told.message).toContain('does not start');
    await orderLive(id, { kind: 'start_load' });
    await until(async () => (await view(id)).state.stage === 'settling', 'settling');
    for (const [fault, code] of [
      ['power:silent', /^lost:Load/],
      ['power:garbage', /^lost:Load/],
      ['power:stuck', /^stuck:Power/],
      ['thermometer:refuse', /^lost:Scanner/],
      ['thermometer:stuck', /^stuck:Die/],
      ['door', /^ambient_jump$/],
      ['throttle', /^throttled$/],
      ['fan_stall', /^fan_stopped$/],
    ] as const) {
      // that a channel stands still is told by how it flickered for two minutes before
      if (fault.endsWith('stuck')) {
        const { t } = (await view(id)).state;
        await until(async () => (await view(id)).state.t > t + 130, 'two minutes of the bench');
      }
      bench.fault(fault, true);
      const alarm = await until(() => lasting(code), `the alarm of ${fault}`);
      expect(alarm.message.length, fault).toBeGreaterThan(20);
      await orderLive(id, { kind: 'acknowledge', who: 'AB' });
      // asked of the store, which keeps an alarm that has ended meanwhile
      await until(async () => (await seenBy(id, 'AB')).some((c) => code.test(c)), `the acknowledgement of ${fault}`);
      bench.fault(fault, false);
      if (fault !== 'throttle' && fault !== 'fan_stall') await until(async () => !(await lasting(code)), `the end of ${fault}`);
    }
    // a fan that stands still cuts the load off
    await until(async () => !bench.bench.isLoaded, 'the load to be off');
  });

  it('the hard limit cuts the load off and stops the run, which is kept', async () => {
    const { id } = await begin(20, { speed: 20, rig: { stop_c: 45 } });
    await until(async () => (await view(id)).checks.length > 0, 'the checks');
    await orderLive(id, { kind: 'begin', reason: 'test' });
    const over = await until(async () => {
      const v = await view(id);
      return v.over ? v : null;
    }, 'the end');
    expect(over.state.stage).toBe('stopped');
    expect(over.state.waits).toContain('the hard limit is 45 °C');
    await until(async () => !bench.bench.isLoaded, 'the load to be off');
  });
});

describe('pushes', () => {
  const line = (seq: number, t: number, values: Record<string, unknown>, source = 'card') => JSON.stringify({ source, seq, t, values });
  const push = (id: number, ...lines: string[]) => takePush(id, async () => lines.join('\n'));

  it('are stored once, in any order, and refused line by line where they are wrong', async () => {
    const { id, card } = await begin(1, { speed: 1, push: 'Clock: clock GHz; Throttling: throttle' });
    const now = Date.now() / 1000;
    const at = (seq: number) => line(seq, now + seq / 10, { Clock: 2 + seq / 100, Throttling: 0 });
    expect(await push(id, at(1), at(2), at(5))).toEqual({ stored: [1, 2, 5], refused: [] });
    expect(await push(id, at(4), at(3), at(2))).toEqual({ stored: [2, 3, 4], refused: [] });
    const other = await push(id, line(2, now + 0.2, { Clock: 9, Throttling: 0 }));
    expect(other.refused[0].error).toBe(`Reading 2 of ${card} was stored before with other figures; the stored ones are kept.`);
    const wrong = await push(
      id,
      'not json',
      '[1]',
      line(0, now, { Clock: 2 }),
      line(7, now, { Speed: 2 }),
      line(8, now, { Clock: 'fast' }),
      line(9, now, { Clock: 9.9e37 }),
      JSON.stringify({ source: 'card', seq: 10, t: 'noon', values: {} }),
      line(11, now + 7200, { Clock: 2 }),
      line(12, now + 1, { Clock: null }),
    );
    expect(wrong.stored).toEqual([12]);
    expect(wrong.refused.map((r) => r.line)).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
    expect(wrong.refused.at(-1)?.error).toContain('did the clock of');
    // GHz became MHz, and the batches hold every number once
    const batches = (await listBatches(database(), id, -1e9)).filter((b) => b.source === card);
    const seqs = batches.flatMap((b) => Array.from(b.t, (_, i) => b.seq_from + i)).sort((a, b) => a - b);
    expect(seqs).toEqual([1, 2, 3, 4, 5, 12]);
    expect(batches.find((b) => b.seq_from === 1)?.channels[0].values[0]).toBeCloseTo(2010, 6);
    expect((await view(id)).refusals.find((r) => r.code === 'line_refused')?.count).toBe(9);
  });

  it('two that come at once with the same numbers are stored once', async () => {
    const { id, card } = await begin(1, { speed: 1, push: 'Clock: clock MHz' });
    const now = Date.now() / 1000;
    const lines = Array.from({ length: 200 }, (_, i) => line(i + 1, now + i / 100, { Clock: i }));
    const answers = await Promise.all([push(id, ...lines), push(id, ...lines), push(id, ...lines.slice(50, 150))]);
    expect(answers.map((a) => a.stored.length)).toEqual([200, 200, 100]);
    const n = (await listBatches(database(), id, -1e9)).filter((b) => b.source === card).reduce((s, b) => s + b.t.length, 0);
    expect(n).toBe(200);
  });

  it('a clock an hour off is told, and its readings are put on the clock of the run', async () => {
    const { id, card } = await begin(1, { speed: 1, push: 'Clock: clock MHz' });
    await push(id, line(1, Date.now() / 1000 - 3600, { Clock: 1 }));
    expect((await refusal(id, card, 'other_clock'))?.message).toMatch(/Its clock is 3600 s behind the run's/);
    const [batch] = (await listBatches(database(), id, -1e9)).filter((b) => b.source === card);
    expect(Math.abs(batch.t[0])).toBeLessThan(20);
  });

  it('for a run that is over, or that never was, are refused', async () => {
    const { id } = await begin(1, { speed: 1, push: 'Clock: clock MHz' });
    await expect(push(4711, '{}')).rejects.toThrow('There is no live run 4711.');
    await orderLive(id, { kind: 'stop', reason: 'enough' });
    await until(async () => (await view(id)).over, 'the end');
    await expect(push(id, line(1, Date.now() / 1000, { Clock: 1 }))).rejects.toThrow(`Live run ${id} is over; it takes no more readings.`);
    expect((await view(id)).refusals.find((r) => r.code === 'run_over')?.count).toBe(1);
    await expect(orderLive(id, { kind: 'begin' })).rejects.toThrow('This live run is over.');
  });
});

describe('starting', () => {
  it('says what is missing', async () => {
    bench = await startBench({ ...SETTING, speed: 1 });
    const stock = await stockLive(bench, { speed: 1, push: '' });
    await expect(startLive({ mount_id: 4711 })).rejects.toThrow('There is no mount 4711.');
    await expect(startLive({ mount_id: stock.mount, kind: 'other' })).rejects.toThrow('A live run is one of');
    await database().query(`update rigs set sheet = sheet - 'throttle_limit_c' where id = $1`, [stock.rig]);
    await expect(startLive({ mount_id: stock.mount, kind: 'limit_test' })).rejects.toThrow('needs its hard limit');
    const { id } = await startLive({ mount_id: stock.mount });
    opened.push(id);
    await expect(startLive({ mount_id: stock.mount })).rejects.toThrow('already has a live run; end it first.');
    await database().query(`update rigs set sheet = jsonb_set(sheet, '{instruments}', '[]') where id = $1`, [stock.rig]);
    await database().query('update live_runs set ended_at = now() where id = $1', [id]);
    await expect(startLive({ mount_id: stock.mount })).rejects.toThrow('has no instrument with an address');
  });
});
