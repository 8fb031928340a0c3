import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, describe, expect, it } from 'vitest';
import { PATIENCE_MS } from '../patience.ts';

const root = fileURLToPath(new URL('../../', import.meta.url));
const command = path.join(root, 'warm-gauge');
const data = mkdtempSync('/tmp/warm-gauge-launcher-');
// the store's own user has to enter the folder when this runs as root
chmodSync(data, 0o755);
afterAll(() => rmSync(data, { recursive: true, force: true }));

function freePort(): Promise<number> {
  return new Promise((done) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => done(port));
    });
  });
}

/** Starts the application as a person does, in a process group of its own. */
function start(port: number, folder = data): { child: ChildProcess; url: string; output: () => string } {
  let text = '';
  const { DATABASE_URL: _, TEST_DATABASE_URL: __, ...env } = process.env;
  const child = spawn(command, ['start'], { env: { ...env, PORT: String(port), WARM_GAUGE_DATA: folder }, detached: true });
  child.stdout.on('data', (d) => {
    text += d;
  });
  child.stderr.on('data', (d) => {
    text += d;
  });
  return { child, url: `http://127.0.0.1:${port}`, output: () => text };
}

async function untilUp(url: string, output: () => string): Promise<void> {
  const end = Date.now() + PATIENCE_MS;
  while (Date.now() < end) {
    if ((await fetch(`${url}/api/health`).catch(() => null))?.ok) return;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error(`not up in time: ${output()}`);
}

const ended = (child: ChildProcess) => new Promise<number | null>((done) => child.once('exit', done));
const storePid = () => Number(readFileSync(path.join(data, 'postgres', 'postmaster.pid'), 'utf8').split('\n')[0]);

/** Whether a process runs; one that is dead and not yet buried does not. */
function runs(pid: number): boolean {
  try {
    return !/^State:\s*Z/m.test(readFileSync(`/proc/${pid}/status`, 'utf8'));
  } catch {
    return false;
  }
}

describe('./warm-gauge', () => {
  it('says what it can do, and what it cannot', () => {
    const help = spawnSync(command, ['help'], { encoding: 'utf8' });
    expect(help.status).toBe(0);
    for (const word of ['demo', 'start', 'test', 'reduce', 'analyse']) expect(help.stdout).toContain(word);
    // no command's help says a phrase that was retired
    const retired = readFileSync('scripts/retired-phrases.txt', 'utf8')
      .split('\n')
      .filter((l) => l.trim() !== '' && !l.startsWith('#'));
    const said = ['reduce', 'analyse', 'plan', 'rank', 'sim', 'check', 'backup', 'restore', 'package', 'verify', 'import'].map(
      (c) => spawnSync(command, [c, '--help'], { encoding: 'utf8' }).stdout,
    );
    for (const text of [help.stdout, ...said]) {
      expect(text.length).toBeGreaterThan(100);
      expect(retired.filter((p) => text.toLowerCase().includes(p.toLowerCase()))).toEqual([]);
    }
    const wrong = spawnSync(command, ['frobnicate'], { encoding: 'utf8' });
    expect(wrong.status).toBe(2);
    expect(wrong.stderr).toContain('There is no command "frobnicate".');
  });

  it('starts with a store of its own, keeps what is stored, and stops both on Ctrl-C', async () => {
    const port = await freePort();
    const first = start(port);
    await untilUp(first.url, first.output);
    expect(first.output()).toContain(`Warm Gauge is at ${first.url}`);
    const made = await fetch(`${first.url}/api/studies`, {
      method: 'POST',
      body: JSON.stringify({ title: 'Kept', margin_k: 1 }),
      headers: { 'content-type': 'application/json' },
    });
    expect(made.status).toBe(201);
    const store = storePid();
    const end = ended(first.child);
    // Ctrl-C in a terminal reaches the whole group
    process.kill(-(first.child.pid ?? 0), 'SIGINT');
    await end;
    // its process goes a moment after it has let go of its folder
    await expect.poll(() => runs(store), { timeout: PATIENCE_MS }).toBe(false);

    // a lock file whose number is another program's by now
    writeFileSync(path.join(data, 'postgres', 'postmaster.pid'), `${process.pid}\n${path.join(data, 'postgres')}\n`);
    const again = start(port);
    await untilUp(again.url, again.output);
    // who starts it a second time is told where it is
    const second = start(await freePort());
    expect(await ended(second.child)).toBe(2);
    expect(second.output()).toContain(`Warm Gauge is running already with the store in ${data}, at ${again.url}.`);
    expect((await fetch(`${again.url}/api/health`)).status).toBe(200);
    expect(again.output()).not.toContain('Making the store');
    expect((await (await fetch(`${again.url}/api/places`)).json()).studies).toMatchObject([{ title: 'Kept' }]);

    // the application alone is killed: it is started again, and nobody has to
    const [app] = spawnSync('pgrep', ['-P', String(again.child.pid), '-f', 'build/serve.mjs'], { encoding: 'utf8' })
      .stdout.trim()
      .split('\n')
      .map(Number);
    process.kill(app, 'SIGKILL');
    await expect.poll(() => again.output(), { timeout: PATIENCE_MS }).toContain('Starting it again.');
    await untilUp(again.url, again.output);
    expect((await (await fetch(`${again.url}/api/places`)).json()).studies).toMatchObject([{ title: 'Kept' }]);
    // the store is read through while the application runs
    const { DATABASE_URL: _, TEST_DATABASE_URL: __, ...env } = process.env;
    const check = spawnSync(command, ['check'], { env: { ...env, WARM_GAUGE_DATA: data }, encoding: 'utf8' });
    expect(check.stdout).toMatch(/^Looked at photographs, .*\.\nAll agrees\.\n$/);
    expect(check.status).toBe(0);
    // and kept as one file, named from where the person is
    const onStore = (folder: string, ...args: string[]) =>
      spawnSync(command, args, { cwd: data, env: { ...env, WARM_GAUGE_DATA: folder }, encoding: 'utf8' });
    const backup = onStore(data, 'backup', 'lab.zip');
    expect([backup.status, backup.stdout]).toEqual([0, expect.stringMatching(/lab\.zip holds 1 study, as they were at 20/)]);
    expect(onStore(data, 'backup', 'lab.zip')).toMatchObject({ status: 2, stderr: expect.stringContaining('is there already') });
    expect(onStore(data, 'restore', 'lab.zip', '--replace')).toMatchObject({
      ...{ status: 2, stderr: expect.stringMatching(/is running already .* Stop it, then restore\./) },
    });

    // everything killed at once, as when the power fails
    const pids = [
      storePid(),
      ...spawnSync('pgrep', ['-g', String(again.child.pid)], { encoding: 'utf8' })
        .stdout.trim()
        .split('\n')
        .map(Number),
    ];
    const gone = ended(again.child);
    for (const pid of pids) process.kill(pid, 'SIGKILL');
    await gone;
    const third = start(port);
    await untilUp(third.url, third.output);
    expect((await (await fetch(`${third.url}/api/places`)).json()).studies).toMatchObject([{ title: 'Kept' }]);
    const last = storePid();
    const stopped = ended(third.child);
    third.child.kill('SIGTERM');
    await stopped;
    await expect.poll(() => runs(last), { timeout: PATIENCE_MS }).toBe(false);

    // and while it does not: the store is started for that, and stopped
    const stopped_check = spawnSync(command, ['check', '--quick'], { env: { ...env, WARM_GAUGE_DATA: data }, encoding: 'utf8' });
    expect([stopped_check.status, stopped_check.stdout.endsWith('All agrees.\n')]).toEqual([0, true]);
    // a backup goes into a store that holds something only where that is asked for, and what was there is kept
    const refused = onStore(data, 'restore', 'lab.zip');
    expect(refused).toMatchObject({
      status: 1,
      stdout: expect.stringMatching(/^In the store: +1 study\nIn the backup: 1 study.*add --replace\.\n$/s),
    });
    const replaced = onStore(data, 'restore', 'lab.zip', '--replace');
    expect(replaced).toMatchObject({ status: 0, stdout: expect.stringMatching(/is kept in .*before-restore-.*\nRestored\./) });
    const [, before] = /is kept in (.*)\n/.exec(replaced.stdout) ?? [];
    const other = path.join(data, 'other');
    expect(onStore(other, 'restore', before)).toMatchObject({ status: 0, stdout: expect.stringMatching(/^In the store: +nothing yet\n/) });
    expect(onStore(other, 'check', '--quick')).toMatchObject({ status: 0 });
    expect(onStore(other, 'restore', 'nothing.zip')).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/There is no file .*nothing\.zip/),
    });
    // a study as a file, and what a reader finds in it without a store
    const packed = onStore(data, 'package', '1', '--to', 'study.zip');
    expect(packed).toMatchObject({ status: 0, stdout: expect.stringMatching(/study\.zip is written\.\n$/) });
    const nowhere = path.join(data, 'nowhere');
    expect(onStore(nowhere, 'verify', 'study.zip')).toMatchObject({
      ...{ status: 0, stdout: 'Recomputed 0 runs and 0 pairs of "Kept".\nAll agrees.\n' },
    });
    expect(existsSync(nowhere)).toBe(false);
    expect(onStore(nowhere, 'verify', 'lab.zip')).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('datapackage.json is missing'),
    });
    expect(onStore(data, 'package', '77', '--to', 'other.zip')).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('There is no study 77.'),
    });
    expect(onStore(data, 'package', 'Kept', '--to', 'other.zip')).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('by its number'),
    });
    const missing = spawnSync(command, ['check'], { env: { ...env, WARM_GAUGE_DATA: path.join(data, 'nothing') }, encoding: 'utf8' });
    expect([missing.status, missing.stderr]).toEqual([2, expect.stringContaining('There is no store in')]);
    expect(spawnSync(command, ['check', '--fast'], { env: { ...env, WARM_GAUGE_DATA: data }, encoding: 'utf8' }).status).toBe(2);
  });

  it('leaves a folder alone that holds something else than a store', async () => {
    const odd = mkdtempSync('/tmp/warm-gauge-odd-');
    chmodSync(odd, 0o755);
    mkdirSync(path.join(odd, 'postgres'));
    writeFileSync(path.join(odd, 'postgres', 'thesis.txt'), 'five years');
    const refused = start(await freePort(), odd);
    expect(await ended(refused.child)).toBe(2);
    expect(refused.output()).toContain(`The folder ${odd}/postgres holds files, but no whole store: PG_VERSION is missing.`);
    expect(readFileSync(path.join(odd, 'postgres', 'thesis.txt'), 'utf8')).toBe('five years');
    // what an interrupted first start left is made anew
    writeFileSync(path.join(odd, 'making'), '');
    const made = start(await freePort(), odd);
    await untilUp(made.url, made.output);
    const end = ended(made.child);
    made.child.kill('SIGTERM');
    await end;
    rmSync(odd, { recursive: true, force: true });
  });

  it('lets no one into the store without the password', async () => {
    expect(
      readFileSync(path.join(data, 'postgres', 'pg_hba.conf'), 'utf8')
        .split('\n')
        .filter((l) => /^\w/.test(l) && !l.includes('scram-sha-256')),
    ).toEqual([]);
    expect(readFileSync(path.join(data, 'password'), 'utf8').trim()).toMatch(/^[0-9a-f]{48}$/);
  });

  it('says so where the port is taken', async () => {
    const server = createServer().listen(0, '127.0.0.1');
    await new Promise((done) => server.once('listening', done));
    const taken = start((server.address() as { port: number }).port);
    expect(await ended(taken.child)).toBe(1);
    server.close();
    expect(taken.output()).toContain('is taken by another program; choose another with PORT=');
  });
});
