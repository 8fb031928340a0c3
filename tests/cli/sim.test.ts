import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readLog } from '#core/signal/logs/readLog';
import { PATIENCE_MS } from '../patience.ts';

const root = fileURLToPath(new URL('../../', import.meta.url));
const log = path.join(mkdtempSync(path.join(tmpdir(), 'warm-gauge-sim-')), 'bench.csv');
const command = path.join(root, 'warm-gauge');
const PORT = 20_000 + (process.pid % 20_000);
let sim: ChildProcess;
const ports: Record<string, number> = {};

/** Sends lines to an instrument and returns what comes back within a while. */
function ask(port: number, text: string, wait_ms = 300): Promise<string> {
  return new Promise((done, failed) => {
    let answer = '';
    const socket = connect(port, '127.0.0.1', () => socket.write(text)).on('error', failed);
    socket.on('data', (d) => {
      answer += d;
    });
    setTimeout(() => {
      socket.destroy();
      done(answer);
    }, wait_ms);
  });
}

beforeAll(async () => {
  sim = spawn(command, ['sim', '--speed', '100', '--port', String(PORT), '--log', log, '--program', '60:300:120'], {
    stdio: ['pipe', 'pipe', 'ignore'],
  });
  let said = '';
  await new Promise<void>((ready) =>
    sim.stdout?.on('data', (d) => {
      said += d;
      if (said.includes('sound')) ready();
    }),
  );
  for (const line of said.trim().split('\n')) ports[line.split(' ')[0]] = Number(line.split(':')[1]);
}, 120_000);
afterAll(() => {
  sim?.kill('SIGTERM');
});

describe('./warm-gauge sim', () => {
  it('answers SCPI in both forms of its headers, lists of channels and several messages a line', async () => {
    expect(await ask(ports.thermometer, '*IDN?\n')).toBe('Thornmere,Scanner 20,TH-0031,1.2\n');
    const answer = await ask(ports.thermometer, 'MEAS:TEMP? (@101:103,201)\nmeasure:temperature? (@101)\n');
    const [several, one] = answer.trim().split('\n');
    expect(several.split(',').map(Number)).toHaveLength(4);
    expect(several).toMatch(/^[+-]\d\.\d{8}E\+\d\d?(,[+-]\d\.\d{8}E\+\d\d?){3}$/);
    expect(Number(one)).toBeGreaterThan(15);
    expect(await ask(ports.power, '*OPC?;OUTP?\n')).toMatch(/^1;[01]\n$/);
  });
  it('queues an error a connection and tells it once', async () => {
    expect(await ask(ports.tachometer, 'MEAS:VOLT?\nSYST:ERR?\nSYST:ERR?\n')).toBe('-113,"Undefined header"\n0,"No error"\n');
    expect(await ask(ports.thermometer, 'MEAS:TEMP?\nSYSTem:ERRor?\n*CLS\nSYST:ERR:NEXT?\n')).toBe(
      '-109,"Missing parameter"\n0,"No error"\n',
    );
    expect(await ask(ports.power, 'OUTP MAYBE\nSYST:ERR?\n')).toBe('-104,"Data type error"\n');
    expect(await ask(ports.thermometer, 'MEAS:TEMP? (@999)\nSYST:ERR?\n')).toBe('-222,"Data out of range"\n');
  });
  it('writes a log that grows and is read, and follows its program', async () => {
    const clockOf = () => readLog('bench.csv', new Uint8Array(readFileSync(log))).columns.find((c) => c.name === 'Clock');
    await expect.poll(() => Math.max(...(clockOf()?.values ?? [])), { timeout: PATIENCE_MS }).toBe(2100);
    const clock = clockOf();
    expect(clock?.values.length).toBeGreaterThan(50);
    expect(Math.min(...(clock?.values ?? []))).toBe(600);
  });
  it('takes faults while it runs', async () => {
    sim.stdin?.write('sound:garbage on\n');
    await new Promise((done) => setTimeout(done, 200));
    expect(await ask(ports.sound, 'MEAS:SLEV?\n')).toBe('#?Q~/ 4.4.4\n');
    sim.stdin?.write('sound:garbage off\n');
    await new Promise((done) => setTimeout(done, 200));
    expect(Number(await ask(ports.sound, 'MEAS:SLEV?\n'))).toBeGreaterThan(20);
  });
  it('refuses what it cannot do in one line', () => {
    const call = (...args: string[]) => spawnSync(command, ['sim', ...args], { encoding: 'utf8' });
    expect(call('--port', String(PORT))).toMatchObject({ status: 2 });
    expect(call('--port', String(PORT)).stderr).toMatch(/is taken; choose another with --port/);
    expect(call('--port', String(PORT + 50), '--fault', 'rain').stderr).toContain('there is no fault "rain"');
    expect(call('--speed', '1000').stderr).toContain('outside 1 to 100');
    expect(call('--port', String(PORT + 60), '--program', '1:2').stderr).toContain('is no program');
  });
});
