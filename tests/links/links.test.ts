import { mkdtempSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LinkCollector } from '#features/live/server/linkCollector';
import { discover, type Found } from '#features/live/server/links/discover';
import { isLinked, type LinkedAddress } from '#features/live/server/links/openLink';
import type { LiveReading } from '#features/live/server/readings';
import { channelProblem, type LiveSource, readChannelMap } from '#features/shelf/model/channelMap';
import { readAddress } from '#features/shelf/model/sourceAddress';
import { CuttableServer } from '#simulator/cuttableServer';
import { NORTH_BENCH } from '#simulator/rigs';
import type { InstrumentFault } from '#simulator/scpi';
import { type RunningBench, startBench } from '#simulator/startSimulator';
import { BrokerWithProbe } from '#simulator/ways/broker';
import { SerialProbe } from '#simulator/ways/serialProbe';
import type { Way } from '#simulator/ways/startWays';
import { until } from '../liveBench.ts';

let bench: RunningBench;
beforeAll(async () => {
  const setting = { rig: NORTH_BENCH, interface_k_per_w: 0.06, room_c: 22, seed: 3 };
  bench = await startBench({ ...setting, port: null, speed: 1, ways: { port: null, period_ms: 100 } });
});
afterAll(() => bench.stop());

/** What a collector makes of an instrument with such an address. */
class Heard {
  readonly readings: LiveReading[] = [];
  readonly refusals: { code: string; message: string }[] = [];
  connected = false;
  problem: string | null = null;
  private readonly began = performance.now();
  private readonly collector: LinkCollector;

  constructor(address: string, channels: string, more: Partial<Omit<LiveSource, 'address'>> = {}) {
    const where = readAddress(address);
    const map = readChannelMap(channels);
    if ('problem' in where || 'problem' in map || !isLinked(where)) throw new Error(JSON.stringify([where, map]));
    const source = {
      ...{ instrument_id: 1, name: 'Any', address: where as LinkedAddress, channels: map.channels, period_s: 0.1, identity: null },
      ...{ switch_on: null, switch_off: null, offset: 0, clock_offset_s: null, calibrated_until: null, ...more },
    };
    const now = () => (performance.now() - this.began) / 1000;
    this.collector = new LinkCollector(
      source,
      { now, scale: 1 },
      {
        onReading: (reading) => void this.readings.push(reading),
        onState: (state) => Object.assign(this, state),
        onRefusal: (code, message) => void this.refusals.push({ code, message }),
      },
    );
    this.collector.start();
  }

  /** Waits for a whole reading that comes from now on. */
  async next(): Promise<Map<string, number>> {
    const from = this.readings.length;
    const whole = (r: LiveReading) => [...r.values.values()].every((v) => !Number.isNaN(v));
    return (await until(async () => this.readings.slice(from).find(whole), 'a reading')).values;
  }

  async refusal(code: string): Promise<string> {
    const from = this.refusals.length;
    return (await until(async () => this.refusals.slice(from).find((r) => r.code === code), `the refusal ${code}`)).message;
  }

  figures(name: string): number[] {
    return this.readings.flatMap((r) => r.values.get(name) ?? []).filter((v) => !Number.isNaN(v));
  }

  stop = () => this.collector.stop();
}

const over = (way: Way) => {
  const { address, channels } = (bench.ways as NonNullable<RunningBench['ways']>).sheets[way];
  return new Heard(address, channels);
};

interface Case {
  way: Way;
  channel: string;
  /** what the bench at rest shows */
  between: [number, number];
  faults: [InstrumentFault, string, RegExp][];
}

const CASES: Case[] = [
  {
    ...{ way: 'modbus', channel: 'Input power', between: [0, 60] },
    faults: [
      ['drop', 'dropped', /The connection was cut/],
      ['silent', 'timeout', /No answer for input register 10 within 1 s/],
      ['slow', 'timeout', /No answer/],
      ['garbage', 'dropped', /not one of Modbus/],
      ['nan', 'not_a_number', /no reading/],
      ['overrange', 'over_range', /an end of float32/],
      ['wrong_unit', 'no_register', /it has no such register/],
      ['other_device', 'no_register', /the device behind its gateway does not answer/],
    ],
  },
  {
    ...{ way: 'broker', channel: 'Room probe', between: [21, 23] },
    faults: [
      ['drop', 'dropped', /The broker cut the connection/],
      ['refuse', 'unreachable', /is it a broker/],
      ['garbage', 'nonsense', /There is nothing at bench\/all -> probe.room/],
      ['nan', 'not_a_number', /no reading/],
      ['overrange', 'over_range', /out of its range/],
      ['wrong_unit', 'wrong_unit', /figures in F, where its sheet says degC/],
    ],
  },
  {
    ...{ way: 'page', channel: 'Fan speed', between: [0, 3000] },
    faults: [
      ['drop', 'dropped', /The connection was cut/],
      ['silent', 'timeout', /No answer from 127.0.0.1\/meter within 1 s/],
      ['slow', 'timeout', /No answer/],
      ['garbage', 'nonsense', /is not JSON/],
      ['nan', 'not_a_number', /no reading at meter.0.fan/],
      ['overrange', 'over_range', /out of its range/],
      ['wrong_unit', 'wrong_unit', /figures in PA/],
      ['other_device', 'refused', /answers with status 302/],
    ],
  },
  {
    ...{ way: 'serial', channel: 'Part 1', between: [20, 35] },
    faults: [
      ['garbage', 'nonsense', /no figure of its channels/],
      ['nan', 'not_a_number', /NAN/],
      ['overrange', 'over_range', /out of its range/],
      ['wrong_unit', 'wrong_unit', /figures in F/],
    ],
  },
];

describe('an instrument of a small lab', () => {
  it.concurrent.each(CASES)('by $way: each fault is told, gives no false value, and is over when it ends', async (given) => {
    const { way, channel, between, faults } = given;
    const heard = over(way);
    await heard.next();
    expect(heard.connected).toBe(true);
    for (const [fault, code, says] of faults) {
      bench.fault(`${way}:${fault}`, true);
      expect(await heard.refusal(code), fault).toMatch(says);
      bench.fault(`${way}:${fault}`, false);
      await heard.next();
      await until(async () => heard.connected && heard.problem === null, `recovery from ${fault}`);
    }
    heard.stop();
    const figures = heard.figures(channel);
    expect(figures.length).toBeGreaterThanOrEqual(faults.length);
    expect(Math.min(...figures)).toBeGreaterThanOrEqual(between[0]);
    expect(Math.max(...figures)).toBeLessThanOrEqual(between[1]);
    const times = heard.readings.map((r) => r.t);
    expect(times.every((t, i) => i === 0 || t >= times[i - 1])).toBe(true);
  });

  it.concurrent('that falls silent gives no reading, though the broker is there', async () => {
    const silent = new BrokerWithProbe('quiet', () => ({ t: 21 }), 50);
    const port = await silent.listen();
    const heard = new Heard(`mqtt://127.0.0.1:${port}`, 'Room: ambient °C = quiet/t');
    await heard.next();
    silent.faults.add('silent');
    await new Promise((done) => setTimeout(done, 300));
    const count = heard.readings.length;
    await new Promise((done) => setTimeout(done, 500));
    expect(heard.readings.length).toBe(count);
    silent.faults.delete('silent');
    await heard.next();
    heard.stop();
    await silent.stop();
  });

  it.concurrent('whose value a broker kept from before is not read', async () => {
    const address = bench.ways?.sheets.broker.address as string;
    const heard = new Heard(address, 'Old: ambient °C = bench/old');
    expect(await heard.refusal('retained')).toBe('The broker’s kept value of bench/old is of unknown age and is not taken.');
    await new Promise((done) => setTimeout(done, 300));
    expect(heard.readings).toEqual([]);
    heard.stop();
  });

  it.concurrent('joins what comes one by one to readings, each with every channel once', async () => {
    const address = bench.ways?.sheets.broker.address as string;
    const heard = new Heard(address, 'Room: ambient °C = bench/room; Part: sensor °C = bench/die', { offset: 0.5 });
    await until(async () => heard.readings.length >= 10, 'ten readings');
    heard.stop();
    for (const { values } of heard.readings.slice(1)) expect([...values.keys()].sort()).toEqual(['Part', 'Room']);
    // the offset of the sheet is added
    expect(heard.figures('Room').every((v) => v > 22 && v < 23.2)).toBe(true);
  });

  it.concurrent('needs a login where its broker asks for one, and is told so', async () => {
    const locked = new BrokerWithProbe('lab', () => ({ t: 21 }), 50, { name: 'bench', password: 'a:b' });
    const port = await locked.listen();
    const channels = 'Room: ambient °C = lab/t';
    const stranger = new Heard(`mqtt://127.0.0.1:${port}`, channels);
    expect(await stranger.refusal('refused')).toContain(`WARM_GAUGE_BROKER_LOGINS holds it as 127.0.0.1:${port}=name:password`);
    process.env.WARM_GAUGE_BROKER_LOGINS = `other:1883=x:y, 127.0.0.1:${port}=bench:a:b`;
    await stranger.next();
    stranger.stop();
    delete process.env.WARM_GAUGE_BROKER_LOGINS;
    await locked.stop();
  });

  it.concurrent('answers over a serial line, once what it still sends has ended', async () => {
    const probe = new SerialProbe(() => [21.5, 30.25], null);
    const device = await probe.plugIn();
    const channels = 'Room: ambient °C = T? -> T1={}; Part: sensor °C = T? -> T2={}';
    const heard = new Heard(`serial:${device} 115200 8N1`, channels, { identity: 'Serial probe' });
    expect(Object.fromEntries(await heard.next())).toEqual({ Room: 21.5, Part: 30.25 });
    probe.faults.add('slow');
    expect(await heard.refusal('timeout')).toBe('No answer to T? within 1 s.');
    probe.faults.delete('slow');
    expect(Object.fromEntries(await heard.next())).toEqual({ Room: 21.5, Part: 30.25 });
    probe.faults.add('other_device');
    probe.cut();
    expect(await heard.refusal('unreachable')).toBe(`There is no ${device}: is it plugged in?`);
    heard.stop();
    const babbler = new SerialProbe(() => [21.5], 100);
    const asked = new Heard(`serial:${await babbler.plugIn()}`, 'Room: ambient °C = T?');
    expect(await asked.refusal('refused')).toContain('sends by itself; listen to its lines');
    expect(asked.readings).toEqual([]);
    asked.stop();
    await babbler.stop();
    await probe.stop();
  });

  it.concurrent('is not reached outside the networks of instruments, nor at the application’s own port', async () => {
    for (const address of ['mqtt://203.0.113.9', 'modbus://203.0.113.9', 'http://203.0.113.9/x']) {
      const channels = { mqtt: 'A: sensor °C = a', modb: 'A: sensor °C = input 1 int16', http: 'A: sensor °C = a' }[address.slice(0, 4)];
      const heard = new Heard(address, channels as string);
      expect(await heard.refusal('unreachable')).toContain('neither this machine nor a private network');
      heard.stop();
    }
    const own = new Heard('http://127.0.0.1:4310/api/settings', 'A: sensor °C = a');
    expect(await own.refusal('unreachable')).toContain('is a port of Warm Gauge itself');
    own.stop();
  });

  it.concurrent('says what is wrong as long as it sends nothing right', async () => {
    const probe = new BrokerWithProbe('sick', () => ({ t: 21 }), 50);
    const heard = new Heard(`mqtt://127.0.0.1:${await probe.listen()}`, 'Room: ambient °C = sick/t');
    await heard.next();
    probe.faults.add('nan');
    await heard.refusal('not_a_number');
    for (let i = 0; i < 10; i++) {
      await new Promise((done) => setTimeout(done, 30));
      expect(heard.problem).toContain('no reading');
    }
    probe.faults.delete('nan');
    await heard.next();
    await until(async () => heard.problem === null, 'the end of the problem');
    heard.stop();
    await probe.stop();
  });

  it.concurrent('lets go of a line that was opened after nobody wanted it any more', async () => {
    const probe = new SerialProbe(() => [21.5], 50);
    const address = `serial:${await probe.plugIn()}`;
    // stopped while the line is being opened
    new Heard(address, 'Room: ambient °C = T1={}').stop();
    await new Promise((done) => setTimeout(done, 500));
    const next = new Heard(address, 'Room: ambient °C = T1={}');
    await next.next();
    expect(next.refusals.filter((r) => r.code === 'refused')).toEqual([]);
    next.stop();
    await probe.stop();
  });

  it.concurrent('speaks MQTT 5 to a broker that takes nothing else', async () => {
    const levels: number[] = [];
    const server = createServer((socket) => {
      socket.on('error', () => {});
      socket.on('data', (packet) => {
        const kind = packet[0] >> 4;
        if (kind === 1) {
          // the protocol's level stands behind its name
          levels.push(packet[8]);
          socket.write(packet[8] === 5 ? Buffer.from([0x20, 3, 0, 0, 0]) : Buffer.from([0x20, 2, 0, 1]));
          if (packet[8] !== 5) socket.end();
        }
        if (kind !== 8) return;
        socket.write(Buffer.from([0x90, 4, packet[2], packet[3], 0, 1]));
        const body = Buffer.concat([Buffer.from([0, 1]), Buffer.from('a'), Buffer.from([0]), Buffer.from('21.5')]);
        socket.write(Buffer.concat([Buffer.from([0x30, body.length]), body]));
      });
    });
    const stand = new CuttableServer(server);
    const heard = new Heard(`mqtt://127.0.0.1:${await stand.listen()}`, 'Room: ambient °C = a');
    expect(Object.fromEntries(await heard.next())).toEqual({ Room: 21.5 });
    expect(levels).toEqual([4, 5]);
    heard.stop();
    await stand.stop();
  });
});

describe('what nobody has written down', () => {
  /** All that comes within some time, by what is written behind the equals sign. */
  async function seen(address: string, wanted: string): Promise<Map<string, Found>> {
    const where = readAddress(address);
    if ('problem' in where) throw new Error(where.problem);
    const all = new Map<string, Found>();
    const ending = new AbortController();
    const looked = discover(where, {
      see: (found) => all.set(found.query || found.name, found),
      identify: (text) => all.set(text, { query: text, name: text, unit: null, text, value: Number.NaN }),
      signal: ending.signal,
    });
    looked.catch(() => {});
    await until(async () => [...all.keys()].some((key) => key.includes(wanted)), wanted);
    ending.abort();
    await looked;
    return all;
  }

  it.concurrent.each<[Way, string, [number, number], string | null]>([
    ['broker', 'bench/all -> probe.room', [21, 23], null],
    ['page', 'meter.0.fan', [0, 3000], null],
    ['serial', 'T1={}', [20, 35], 'degC'],
    ['modbus', 'input 8 float32', [21, 23], null],
  ])('%s: is found as %s', async (way, query, [low, high], unit) => {
    const all = await seen(bench.ways?.sheets[way].address as string, query);
    const found = all.get(query);
    expect(found?.value).toBeGreaterThanOrEqual(low);
    expect(found?.value).toBeLessThanOrEqual(high);
    expect(found?.unit).toBe(unit);
    // what was found is what a sheet can say
    const channels = [...all.keys()].slice(0, 60).map((q, i) => `C${i}: sensor °C = ${q}`);
    const map = readChannelMap(channels.join('; '));
    expect(
      'problem' in map ? map.problem : channelProblem(way === 'broker' ? 'mqtt' : way === 'page' ? 'http' : way, map.channels),
    ).toBeNull();
  });

  it.concurrent('of an instrument that speaks SCPI is who it is', async () => {
    expect([...(await seen(`127.0.0.1:${bench.ports.thermometer}`, 'Scanner')).keys()]).toEqual(['Thornmere,Scanner 20,TH-0031,1.2']);
  });

  it.concurrent('of a log that grows are its columns', async () => {
    const folder = mkdtempSync(path.join(os.tmpdir(), 'warm-gauge-look-'));
    process.env.WARM_GAUGE_LOGS = folder;
    const rows = Array.from({ length: 12 }, (_, i) => `2026-11-30T09:00:${String(i).padStart(2, '0')}Z,4${i % 3}.5,22.1`);
    writeFileSync(path.join(folder, 'bench.csv'), ['Time,Die 1 (°C),Room (°C)', ...rows, ''].join('\n'));
    expect([...(await seen('file:bench.csv', 'Room')).values()].map(({ query, name, value, unit }) => [query, name, value, unit])).toEqual([
      ['', 'Die 1', 42.5, 'degC'],
      ['', 'Room', 22.1, 'degC'],
    ]);
  });
});
