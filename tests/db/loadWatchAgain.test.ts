import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { beganAt, type CutRecord, cutFile, type WatchFile, writeWhole } from '#features/live/server/loadWatchFile';
import { NORTH_BENCH } from '#simulator/rigs';
import { type RunningBench, startBench } from '#simulator/startSimulator';
import { until } from '../liveBench.ts';

const folder = mkdtempSync('/tmp/warm-gauge-watch-');
const file = path.join(folder, `app-${process.pid}.json`);
let bench: RunningBench;
let watch: ChildProcess;

/** What an application says: one load that it follows all the time, and one that it may have lost. */
function say(lost: boolean): void {
  const off = [{ host: '127.0.0.1', port: bench.ports.power, command: 'OUTP OFF' }];
  const said: WatchFile = {
    app: { pid: process.pid, began: beganAt(process.pid) },
    launcher: null,
    loads: [
      { run: '1-a', rig: 'Followed', off: [{ host: '127.0.0.1', port: 1, command: 'OUTP OFF' }], beat: Date.now() },
      { run: '2-a', rig: 'Lost', off, beat: Date.now() - (lost ? 25_000 : 0) },
    ],
  };
  writeWhole(file, said);
}

beforeAll(async () => {
  bench = await startBench({ rig: NORTH_BENCH, interface_k_per_w: 0.06, room_c: 22, seed: 5, port: null, speed: 1 });
  bench.bench.switchLoad(true);
  say(false);
  watch = spawn('node', ['build/load-watch.mjs', file], { stdio: 'ignore' });
});
afterAll(async () => {
  watch?.kill('SIGKILL');
  await bench?.stop();
  rmSync(folder, { recursive: true, force: true });
});

it('a load that was cut and is followed again is cut again when it is lost again, whatever else is under load', async () => {
  for (const time of ['first', 'second']) {
    bench.bench.switchLoad(true);
    say(false);
    // a near miss: followed a moment ago, it stays on
    await new Promise((done) => setTimeout(done, 1500));
    expect(bench.bench.isLoaded, time).toBe(true);
    rmSync(cutFile(folder, '2-a'), { force: true });
    say(true);
    await until(async () => !bench.bench.isLoaded, `the ${time} cut`, 5000);
    const { why } = JSON.parse(readFileSync(cutFile(folder, '2-a'), 'utf8')) as CutRecord;
    expect(why).toMatch(/did not follow the run for 20 s/);
    await new Promise((done) => setTimeout(done, 1000));
  }
});
