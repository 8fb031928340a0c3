import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { build } from 'esbuild';
import { afterEach, beforeAll, describe, expect, it } from 'vitest';
import { ENDING } from '../../src/agent/load/guard.ts';
import { DUTY_STEPS, SHARED } from '../../src/agent/load/types.ts';
import { kernelTree, PACKAGE_AND_CORES, setFile } from '../kernelTrees.ts';

const folder = mkdtempSync(path.join(os.tmpdir(), 'warm-gauge-agent-'));
const agent = path.join(folder, 'agent.mjs');
const TEMPERATURE = 'sys/class/hwmon/hwmon0/temp1_input';
const THREADS = os.availableParallelism();
/** What a program that is ending itself may take, of one core; the load takes all of them. */
const GONE = 0.3;
/** How often each end of the load is looked at: LOAD_ENDS=10 was asked for and is seen by hand (docs/design/measuring.md). */
const TIMES = Array.from({ length: Number(process.env.LOAD_ENDS ?? 1) }, (_, i) => i + 1);
const open = new Set<ChildProcess>();
let runs = 0;

beforeAll(() =>
  build({
    entryPoints: ['src/agent/main.ts'],
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    outfile: agent,
    tsconfig: 'tsconfig.json',
  }),
);
afterEach(() => {
  for (const child of open) child.kill('SIGKILL');
  open.clear();
});

const wait = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** Processor time that a process with all its threads took so far, s; null where it is gone. */
function cpu(pid: number): number | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    return fields[0] === 'Z' ? null : (Number(fields[11]) + Number(fields[12])) / 100;
  } catch {
    return null;
  }
}

/** Share of one core that a process takes over some time; 0 where it is gone. */
async function taken(pid: number, ms: number): Promise<number> {
  const before = cpu(pid);
  const began = performance.now();
  await wait(ms);
  const after = cpu(pid);
  return before === null || after === null ? 0 : (after - before) / ((performance.now() - began) / 1000);
}

function start(options: string[], under: string[] = []): { child: ChildProcess; root: string; said: () => string } {
  const root = kernelTree(PACKAGE_AND_CORES);
  const args = [agent, '--root', root, '--csv', path.join(folder, `${runs++}.csv`), '--keep', folder, '--rate', '10', ...options];
  const [command, ...rest] = [...under, process.execPath, ...args];
  const child = spawn(command, rest, { stdio: ['ignore', 'ignore', 'pipe'] });
  open.add(child);
  let text = '';
  child.stderr?.on('data', (part) => {
    text += part;
  });
  return { child, root, said: () => text };
}

/** A program that only starts takes as much: it has said that it loads, and goes on for two looks. */
async function untilHeating(pid: number, said: () => string): Promise<void> {
  await expect.poll(said).toContain('Load: ');
  await taken(pid, 250);
  for (let i = 0; i < 40; i++) if ((await taken(pid, 250)) > 0.5) return;
  throw new Error('The load did not start.');
}

const LOADED = ['--load', 'threads', '--program', '0:600:0'];

describe('the load of the agent', () => {
  it.each([30, 60, 90])('takes %i percent of the processors’ time where that was asked for, within 2 points', async (share) => {
    const { child, said } = start(['--load', `${share}%`, '--program', '0:600:0']);
    await untilHeating(child.pid as number, said);
    await wait(6000);
    // the middle one of three: one look may fall on something else that this machine does
    const looks: number[] = [];
    for (let i = 0; i < 3; i++) looks.push((100 * (await taken(child.pid as number, 4000))) / THREADS);
    const measured = looks.sort((a, b) => a - b)[1];
    expect(Math.abs(measured - share)).toBeLessThan(2);
  });

  it.each(TIMES)('is gone within a second of the limit, and the agent reads on (%i)', async () => {
    const { child, root, said } = start([...LOADED, '--limit', '90']);
    const pid = child.pid as number;
    await untilHeating(pid, said);
    setFile(root, TEMPERATURE, 89_900);
    await wait(300);
    expect(await taken(pid, 300)).toBeGreaterThan(0.5);
    setFile(root, TEMPERATURE, 90_000);
    await wait(1000);
    expect(await taken(pid, 400)).toBeLessThan(GONE);
    expect(said()).toContain('The part reached 90.0 °C, its limit is 90 °C. The load was ended.');
    expect(cpu(pid)).not.toBeNull();
  });

  it('is gone within a second of the limit, however seldom the machine is read', async () => {
    const { child, root, said } = start([...LOADED, '--limit', '90', '--rate', '0.1']);
    const pid = child.pid as number;
    await untilHeating(pid, said);
    setFile(root, TEMPERATURE, 90_000);
    await wait(1000);
    expect(await taken(pid, 400)).toBeLessThan(GONE);
  });

  it.each(TIMES.flatMap((time) => [...ENDING, 'SIGKILL' as const].map((signal) => ({ signal, time }))))(
    'is gone within a second of $signal ($time)',
    async ({ signal }) => {
      const { child, said } = start(LOADED);
      const pid = child.pid as number;
      await untilHeating(pid, said);
      child.kill(signal);
      await wait(1000);
      expect(await taken(pid, 300)).toBeLessThan(GONE);
      await expect.poll(() => child.exitCode !== null || child.signalCode !== null || cpu(pid) === null).toBe(true);
    },
  );

  it.each(TIMES)('is gone within a second of the end of its parent (%i)', async () => {
    // the shell stays the parent of what it starts
    const { child, said } = start(LOADED, ['bash', '-c', '"$@" & echo $! >&2; wait', 'parent']);
    let text = '';
    child.stderr?.on('data', (part) => {
      text += part;
    });
    await expect.poll(() => /^\d+$/m.test(text)).toBe(true);
    const pid = Number(/^\d+$/m.exec(text)?.[0]);
    await untilHeating(pid, said);
    child.kill('SIGKILL');
    await wait(1000);
    expect(await taken(pid, 300)).toBeLessThan(GONE);
  });

  it('is gone while the agent is stopped, and ends with it where it goes on and is ended', async () => {
    const { child, said } = start(LOADED);
    const pid = child.pid as number;
    await untilHeating(pid, said);
    child.kill('SIGSTOP');
    await wait(200);
    expect(await taken(pid, 1500)).toBe(0);
    child.kill('SIGTERM');
    child.kill('SIGCONT');
    await wait(1000);
    expect(await taken(pid, 300)).toBe(0);
    expect(cpu(pid)).toBeNull();
  });
});

describe('a worker of the load', () => {
  it('ends by itself within a second of the last sign that somebody watches', async () => {
    const said = new Int32Array(new SharedArrayBuffer(4 * SHARED.length));
    said[SHARED.duty] = DUTY_STEPS;
    const worker = new Worker(agent, { workerData: { shared: said.buffer, mix: 'all', index: 0 } });
    let ended = false;
    worker.once('exit', () => {
      ended = true;
    });
    for (let i = 0; i < 20; i++) {
      Atomics.add(said, SHARED.beat, 1);
      await wait(100);
    }
    expect(ended).toBe(false);
    await wait(1000);
    expect(ended).toBe(true);
  });
});

describe('the agent on a machine', () => {
  it('costs under 1 % of a core at 1 reading a second, as it says itself', async () => {
    const { child, said } = start(['--rate', '1', '--for', '15']);
    await new Promise((done) => child.once('exit', done));
    expect(Number(/Reading took ([\d.]+) % of one core/.exec(said())?.[1])).toBeLessThan(1);
  });
});
