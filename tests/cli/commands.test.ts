import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { vectors } from '../vectors.ts';

const root = fileURLToPath(new URL('../../', import.meta.url));
const logs = path.join(root, 'tests/reference/logs');
const folder = mkdtempSync(path.join(tmpdir(), 'warm-gauge-cli-'));

function call(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(path.join(root, 'warm-gauge'), args, { cwd: logs, encoding: 'utf8' });
  return { status, stdout, stderr: stderr.trim(), lines: stderr.trim().split('\n').filter(Boolean).length };
}

function table(name: string, text: string): string {
  const file = path.join(folder, name);
  writeFileSync(file, text);
  return file;
}

describe('./warm-gauge reduce', () => {
  it('prints the contract as JSON and exits 0 for a valid run', () => {
    const { status, stdout } = call('reduce', 'plain.csv', '--limit', '95', '--json');
    const run = JSON.parse(stdout);
    expect(status).toBe(0);
    expect(run).toMatchObject({ value: 'mean', valid: true, censored: false, steady: true, fixed_rise_k: null });
    expect(run.rise_k).toBe(run.mean_rise_k);
  });
  it('exits 1 with the JSON for a run that is not valid', () => {
    const { status, stdout } = call('reduce', 'slow_loop.csv', '--json');
    expect(status).toBe(1);
    expect(JSON.parse(stdout)).toMatchObject({ valid: false, throttled_share: null });
  });
  it('takes the room as typed where no ambient was logged', () => {
    const { status, stdout } = call('reduce', 'no_ambient.tsv', '--room', '22', '--room-u', '0.5', '--json');
    const run = JSON.parse(stdout);
    expect(status).toBe(0);
    expect(run.rise_k).toBeCloseTo(60.78 - 22, 1);
    expect(run.se_k).toBeGreaterThan(0.5);
    expect(run.findings.map((f: { code: string }) => f.code)).toContain('ambient_typed');
  });
  it('flags what differs from the set-points', () => {
    const { stdout } = call('reduce', 'plain.csv', '--power', '150', '--fan', '1500', '--clock', '2300', '--ambient', '18:20', '--json');
    const codes = JSON.parse(stdout).findings.map((f: { code: string }) => f.code);
    expect(codes).toEqual(expect.arrayContaining(['power_differs', 'fan_differs', 'clock_differs', 'ambient_band']));
  });
  it.each([
    [['reduce', 'missing.csv'], 'missing.csv: there is no such file.'],
    [['reduce', '.'], '. is a folder; name a file.'],
    [['reduce', 'plain.csv', '--limit', 'warm'], '"warm" is not a number'],
    [['reduce', 'plain.csv', '--sensor', 'Die 9'], 'there is no column "Die 9"'],
    [['reduce', 'plain.csv', '--role', 'Die 1=heater'], '"heater" is not one of sensor, ambient'],
    [['reduce', 'throttled.csv'], '(--day-first or --month-first)'],
    [['reduce', 'plain.csv', '--value', 'fixed'], '--value fixed needs --at S'],
    [['reduce', 'plain.csv', '--offset', 'other.csv=3'], 'not among the logs'],
    [['plan', '--specimens', '8'], 'plan is not built yet.'],
  ])('refuses %j in one line', (args, message) => {
    const { status, stderr, lines, stdout } = call(...args);
    expect(status).toBe(2);
    expect(lines).toBe(1);
    expect(stderr).toContain(message);
    expect(stdout).toBe('');
  });
});

describe('./warm-gauge analyse', () => {
  const file = vectors<
    { rows: { specimen: string; mount: string; value: number }[] },
    { tukey_kramer: { p_adjusted: number; ci95: [number, number] }[]; games_howell: { ci95: [number, number] }[] }
  >('oneway');
  const { input, expected } = file.cases[0];
  const csv = table('runs.csv', `specimen,mount,value\n${input.rows.map((r) => `${r.specimen},${r.mount},${r.value}\n`).join('')}`);

  it('gives both schools and the chosen one', () => {
    const { status, stdout } = call('analyse', csv, '--json');
    const result = JSON.parse(stdout);
    expect(status).toBe(0);
    expect(result.scatter.school).toBe('separate');
    expect(result.pairs[0].pooled.p_adjusted).toBeCloseTo(expected.tukey_kramer[0].p_adjusted, 7);
    expect(result.pairs[0].pooled.ci[0]).toBeCloseTo(expected.tukey_kramer[0].ci95[0], 6);
    expect(result.pairs[0].separate.ci[1]).toBeCloseTo(expected.games_howell[0].ci95[1], 6);
    expect(result.pairs[0]).toMatchObject({ verdict: 'cooler', firm: true, more_mounts: 0 });
    expect(result.sentences).toEqual(['S1 runs 1.1 K cooler than S2 (95 % 0.4 to 1.8, 5 mounts each); firm.']);
  });
  it('leaves out invalid and excluded rows and lists them', () => {
    const runs = table(
      'left.csv',
      'specimen,mount,run,value,valid,excluded,reason\nA,1,1,40,true,false,\nA,2,1,41,true,false,\nA,3,1,55,false,false,\nB,1,1,44,true,false,\nB,2,1,45,true,false,\nB,3,1,47,true,true,tilted\n',
    );
    const result = JSON.parse(call('analyse', runs, '--json').stdout);
    expect(result.specimens.map((s: { mounts: number }) => s.mounts)).toEqual([2, 2]);
    expect(result.findings[0]).toMatchObject({ code: 'excluded_mounts' });
    expect(result.findings[0].message).toContain('B mount 3 run 1 (tilted)');
  });
  it('compares resistance by the rows valid for it', () => {
    const runs = table(
      'r.csv',
      'specimen,mount,value,valid,r_k_per_w,r_valid\nA,1,42,true,0.30,true\nA,2,43,false,0.31,true\nB,1,49,true,0.35,true\nB,2,50,true,0.36,true\n',
    );
    const result = JSON.parse(call('analyse', runs, '--json', '--outcome', 'r_k_per_w').stdout);
    expect(result.specimens[0]).toMatchObject({ mounts: 2 });
    expect(result.specimens[0].mean).toBeCloseTo(0.305, 10);
    expect(result.margin).toBeCloseTo(1 / 140, 4);
  });
  it.each([
    [['analyse', csv, '--family', 'reference'], '--family reference is not built yet.'],
    [['analyse', csv, '--block', 'day'], '--block day is not built yet.'],
    [['analyse', csv, '--reference', 'S9'], 'The reference S9 is not among the specimens (S1, S2).'],
    [['analyse', table('bad.csv', 'specimen,mount,value\nA,1,forty\n')], 'row 2, column "value": "forty" is not a number'],
    [['analyse', table('short.csv', 'specimen,value\nA,1\n')], 'the column "mount" is missing'],
    [['analyse', table('none.csv', 'specimen,mount,value,valid\nA,1,40,false\n')], 'No valid run is left to compare'],
  ])('refuses %j in one line', (args, message) => {
    const { status, stderr, lines } = call(...args);
    expect(status).toBe(2);
    expect(lines).toBe(1);
    expect(stderr).toContain(message);
  });
});
