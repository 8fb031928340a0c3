import { afterEach, describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { liveView } from '#features/live/server/liveView';
import { orderLive, startLive } from '#features/live/server/startLive';
import { Supervisor } from '#features/live/server/supervisor';
import { listBatches } from '#features/live/store/live';
import { insertSheet } from '#features/shelf/store/sheets';
import { insertMount, insertSpecimen, insertStudy } from '#features/study/store/studies';
import { NORTH_BENCH } from '#simulator/rigs';
import { type RunningBench, startBench } from '#simulator/startSimulator';
import { WAYS, type Way } from '#simulator/ways/startWays';
import { onFreshDatabase } from '../database';
import { until } from '../liveBench';

onFreshDatabase();
const SPEED = 10;
let bench: RunningBench;
let supervisor: Supervisor;

afterEach(async () => {
  await database().query('update live_runs set ended_at = now() where ended_at is null');
  await supervisor?.stop();
  await bench?.stop();
});

/** A mount on a rig whose instruments are read by a serial line, a broker, registers and a page of JSON. */
async function stock(): Promise<number> {
  const db = database();
  const ids: number[] = [];
  for (const way of WAYS) {
    const sheet = { ...bench.ways?.sheets[way], period_s: 1, calibrated_until: '2099-01-01' };
    ids.push((await insertSheet(db, 'instruments', way, sheet as never)) as number);
  }
  const rig = (await insertSheet(db, 'rigs', 'Small lab', { instruments: ids, time_scale: SPEED, power_w: 140 } as never)) as number;
  const study = (await insertStudy(db, { title: 'Small lab', question: '', margin_k: 1, reduction: {} })) as number;
  return (await insertMount(db, (await insertSpecimen(db, study, 'Loam White', 'paste')) as number, rig, '')).id;
}

describe('a live run of a small lab', () => {
  it('raises an alarm for each instrument that falls silent or talks nonsense, and stores every reading that it took, none of them false', async () => {
    const setting = { rig: NORTH_BENCH, interface_k_per_w: 0.06, room_c: 22, seed: 5, port: null };
    bench = await startBench({ ...setting, speed: SPEED, ways: { port: null, period_ms: 1000 / SPEED } });
    const mount_id = await stock();
    supervisor = new Supervisor();
    supervisor.start();
    const { id } = await startLive({ mount_id, cycles: 1 });
    const view = () => liveView(id);
    await until(async () => (await view()).checks.length > 0, 'the checks');
    await until(async () => Object.values((await view()).health).every((h) => h.newest_s !== null), 'readings of all four');
    await orderLive(id, { kind: 'begin', reason: 'test' });
    await until(async () => (await view()).state.stage === 'idle', 'idle');
    const lasting = async (way: Way) => (await view()).alarms.find((a) => a.code === `lost:${way}` && a.ended_at === null);
    for (const [way, fault] of [
      ['modbus', 'silent'],
      ['modbus', 'garbage'],
      ['modbus', 'overrange'],
      ['broker', 'silent'],
      ['broker', 'nan'],
      ['page', 'drop'],
      ['page', 'wrong_unit'],
      ['serial', 'silent'],
      ['serial', 'garbage'],
    ] as const) {
      bench.fault(`${way}:${fault}`, true);
      const alarm = await until(() => lasting(way), `the alarm of ${way}:${fault}`);
      expect(alarm.message, fault).toContain(`${way} has not answered for`);
      for (const other of WAYS) if (other !== way) expect(await lasting(other), `${other} during ${way}:${fault}`).toBeUndefined();
      bench.fault(`${way}:${fault}`, false);
      await until(async () => !(await lasting(way)), `the end of ${way}:${fault}`);
    }
    const batches = await listBatches(database(), id, 0);
    const ranges: Record<Way, [number, number]> = { modbus: [0, 200], broker: [20, 24], page: [0, 3000], serial: [20, 90] };
    for (const way of WAYS) {
      const own = batches.filter((b) => b.source === way).sort((a, b) => a.seq_from - b.seq_from);
      const values = own.flatMap((b) => b.channels.flatMap((c) => Array.from(c.values))).filter((v) => !Number.isNaN(v));
      expect(values.length, way).toBeGreaterThan(20);
      expect(
        values.every((v) => v >= ranges[way][0] && v <= ranges[way][1]),
        `${way}: ${Math.min(...values)} to ${Math.max(...values)}`,
      ).toBe(true);
      // every reading that was taken is there, under numbers without a hole
      expect(own.map((b) => b.seq_from)).toEqual(own.map((_, i) => own.slice(0, i).reduce((n, b) => n + b.t.length, 1)));
    }
  });
});
