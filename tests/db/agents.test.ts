import { randomUUID } from 'node:crypto';
import { beforeAll, describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { agentsView, greetAgent, measureMachine, measureView } from '#features/live/server/agents';
import { takePush } from '#features/live/server/ingest';
import { getLive } from '#features/live/store/live';
import { findSheet, getSheet } from '#features/shelf/store/sheets';
import { planView } from '#features/study/server/planView';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();

const key = randomUUID();
const CHANNELS = [
  { name: 'Package', role: 'sensor', unit: '°C' },
  { name: 'Power', role: 'power', unit: 'W' },
  { name: 'Throttling', role: 'throttle', unit: null },
];
const hello = (more: object = {}) => ({
  ...{
    key,
    name: 'Hut card',
    period_s: 1,
    channels: CHANNELS,
    load: true,
    hold_w: null,
    limit_c: 95,
    now: { Package: 31.5, Power: null, Other: 3 },
  },
  ...more,
});
const begin = (more: object = {}) =>
  measureMachine({ agent: key, study_title: 'Hut card pastes', specimen: 'Loam White', room_c: 22, hold_w: 60, ...more });
const end = () => database().query('update live_runs set ended_at = now() where ended_at is null');
const count = async (of: string) => Number((await database().query(`select count(*) as n from ${of}`)).rows[0].n);

beforeAll(() => greetAgent(hello()));

describe('a machine whose agent speaks', () => {
  it('is there with what it reads, until it is silent for eight seconds', async () => {
    expect((await agentsView()).agents).toMatchObject([{ key, name: 'Hut card', can_load: true, live: null }]);
    expect((await agentsView()).agents[0].channels[0]).toMatchObject({ name: 'Package', now: 31.5 });
    await database().query("update agents set seen_at = now() - interval '7.5 seconds'");
    expect((await agentsView()).agents).toHaveLength(1);
    await database().query("update agents set seen_at = now() - interval '8.5 seconds'");
    expect((await agentsView()).agents).toHaveLength(0);
    await expect(begin()).rejects.toThrow('not heard any more');
    await greetAgent(hello());
  });

  it.each([
    [{ key: 'x' }, 'UUID'],
    [{ channels: [] }, '1 to 64 channels'],
    [{ channels: [{ name: 'A', role: 'sensor', unit: 'furlong' }] }, '"furlong" of A is not a known unit'],
    [{ channels: [{ name: 'A; B: sensor', role: 'sensor', unit: '°C' }] }, 'is not a channel'],
    [{ channels: [CHANNELS[0], CHANNELS[0]] }, 'Two channels are called "Package"'],
    [{ period_s: 0 }, '0.01 to 100 s'],
    [{ name: '' }, 'name of 1 to 60'],
  ])('is refused where it says %j', async (more, words) => {
    await expect(greetAgent(hello(more))).rejects.toThrow(words);
  });

  it.each([
    [{ room_c: null }, 'reads no room temperature'],
    [{ specimen: '' }, 'Say what is mounted'],
    [{ study_title: ' ' }, 'enter the title of a new one'],
    [{ limit_c: 20 }, 'between 30 and 150'],
    [{ study_id: 999 }, 'no longer exists'],
  ])('is not measured, and nothing is made, where it is asked %j', async (more, words) => {
    const before = [await count('studies'), await count('instruments'), await count('rigs')];
    await expect(begin(more)).rejects.toThrow(words);
    expect([await count('studies'), await count('instruments'), await count('rigs')]).toEqual(before);
  });

  it('is not loaded where nobody allowed it, or read where it reads no part', async () => {
    await greetAgent(hello({ load: false }));
    await expect(begin()).rejects.toThrow('may not be loaded: start its agent with --load');
    await greetAgent(hello({ channels: CHANNELS.slice(0, 1) }));
    await expect(begin()).rejects.toThrow('reads no power');
    await greetAgent(hello({ channels: CHANNELS.slice(1) }));
    await expect(begin()).rejects.toThrow('reads no temperature of the part');
    await greetAgent(hello());
  });
});

describe('a first run on it', () => {
  let live = 0;

  it('makes the sheet, the rig, the study with its plan, and the mount', async () => {
    ({ live } = await begin({ idle_min: 1, load_min: 20, runs: 2 }));
    const run = await getLive(database(), live);
    expect(run).toMatchObject({ study: 'Hut card pastes', specimen: 'Loam White', rig: 'Hut card', mount: 1 });
    expect(run?.settings).toMatchObject({ switched: true, power_w: 60, idle_s: 60, most_load_s: 1200, cycles: 2, room_c: 22 });
    expect((await findSheet(database(), 'instruments', 'Hut card'))?.sheet).toMatchObject({
      ...{ address: 'push', channels: 'Package: sensor °C; Power: power W; Throttling: throttle', switch_on: 'load', switch_off: 'load' },
    });
    const { plan } = await planView(Number(run?.study_id));
    expect(plan).toMatchObject({
      runs: 2,
      loads: [
        {
          steps: [
            { stage: 'idle', minutes: 1 },
            { stage: 'load', minutes: 20, power_w: 60 },
          ],
        },
      ],
    });
    expect((await measureView()).studies).toEqual([{ id: Number(run?.study_id), title: 'Hut card pastes', specimens: ['Loam White'] }]);
  });

  it('is given to the agent, which is told of the load as the run asks for it', async () => {
    expect(await greetAgent(hello())).toEqual({ run: { id: live, source: 'Hut card', hold_w: 60, limit_c: null } });
    let seq = 0;
    const push = async (more: object = {}) => {
      const line = { source: 'Hut card', seq: ++seq, t: Date.now() / 1000, values: { Package: 40, Power: 20, Throttling: 0 }, ...more };
      return takePush(live, async () => JSON.stringify(line));
    };
    expect(await push()).toEqual({ stored: [1], refused: [], load: 'off' });
    const state = (change: object) => database().query('update live_runs set state = state || $2 where id = $1', [live, change]);
    await state({ load_wanted: true });
    expect((await push()).load).toBe('on');
    await state({ held: 'Nobody watched it.' });
    expect((await push()).load).toBe('off');
    await state({ held: null, load_wanted: false });
    expect((await push()).load).toBe('off');
    // why it ended its load by itself holds the run, once
    const holds = () => database().query("select about from live_orders where live_id = $1 and kind = 'hold'", [live]);
    await push({ load_ended: ' ' });
    expect((await holds()).rows).toEqual([]);
    await push({ load_ended: 'The part reached 90.0 °C, its limit is 90 °C. The load was ended.' });
    expect((await holds()).rows).toEqual([{ about: { reason: 'The part reached 90.0 °C, its limit is 90 °C. The load was ended.' } }]);
    await state({ held: 'It reached its limit.' });
    await push({ load_ended: 'Again.' });
    expect((await holds()).rows).toHaveLength(1);
    await state({ held: null });
  });

  it('is followed by another mount on the same rig, of the same or another material, whatever its case', async () => {
    await expect(begin({ study_id: 1 })).rejects.toThrow('already has a live run');
    await end();
    expect((await greetAgent(hello())).run).toBeNull();
    const study_id = Number((await getLive(database(), live))?.study_id);
    const again = await begin({ study_id, study_title: undefined, specimen: 'loam white', hold_w: 80 });
    expect(await getLive(database(), again.live)).toMatchObject({ specimen: 'Loam White', mount: 2, rig: 'Hut card' });
    await end();
    const other = await begin({ study_id, study_title: undefined, specimen: 'Alder Grey', hold_w: null });
    expect(await getLive(database(), other.live)).toMatchObject({ specimen: 'Alder Grey', mount: 1 });
    expect([await count('instruments'), await count('rigs')]).toEqual([1, 1]);
    await end();
  });

  it('finds another name where a sheet has the machine’s, and takes up what its agent reads now', async () => {
    const twin = randomUUID();
    await greetAgent(hello({ key: twin, channels: [...CHANNELS, { name: 'Room', role: 'ambient', unit: '°C' }] }));
    const { live: id } = await measureMachine({ agent: twin, study_title: 'Other', specimen: 'Tarn', hold_w: 60 });
    expect((await getLive(database(), id))?.rig).toBe('Hut card 2');
    await end();
    await greetAgent(hello({ key: twin }));
    await measureMachine({ agent: twin, study_title: 'Third', specimen: 'Tarn', room_c: 20, hold_w: 60 });
    const { rows } = await database().query('select instrument_id from agents where key = $1', [twin]);
    expect((await getSheet(database(), 'instruments', Number(rows[0].instrument_id)))?.sheet.channels).not.toContain('Room');
  });
});
