import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { expectWithin, vectors } from '../vectors.ts';

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
  it('compares with the reference alone: Dunnett and Welch–Holm', () => {
    const three = table(
      'three.csv',
      'specimen,mount,value\nA,1,40\nA,2,41\nA,3,40.4\nB,1,44\nB,2,45\nB,3,44.1\nC,1,40.2\nC,2,40.9\nC,3,41.1\n',
    );
    const result = JSON.parse(call('analyse', three, '--json', '--family', 'reference', '--reference', 'B').stdout);
    expect(result.pairs.map((p: { a: string; b: string; verdict: string }) => [p.a, p.b, p.verdict])).toEqual([
      ['A', 'B', 'cooler'],
      ['C', 'B', 'cooler'],
    ]);
    expect(result.pairs[0].pooled.p_adjusted).not.toBe(result.pairs[0].separate.p_adjusted);
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
  it('takes bench days out as blocks, and compares nothing across rigs that do not cross', () => {
    const blocks = vectors<
      { rows: { specimen: string; mount: string; day: string; value: number }[] },
      {
        df: number;
        specimens: { mean: number; se: number }[];
        pairs: { difference: number; se: number; p_adjusted: number; ci95: [number, number] }[];
      }
    >('block');
    const { input: given, expected: want } = blocks.cases[6];
    const days = table(
      'days.csv',
      `specimen,mount,day,value\n${given.rows.map((r) => `${r.specimen},${r.mount},${r.day},${r.value}\n`).join('')}`,
    );
    const result = JSON.parse(call('analyse', days, '--json', '--block', 'day').stdout);
    expect(result).toMatchObject({ block: 'day', scatter: { school: 'pooled', df: want.df } });
    want.specimens.forEach((s, i) => {
      expect(result.specimens[i].mean).toBeCloseTo(s.mean, 8);
      expect(result.specimens[i].se).toBeCloseTo(s.se, 8);
    });
    want.pairs.forEach((p, i) => {
      expect(result.pairs[i].difference).toBeCloseTo(p.difference, 8);
      expect(result.pairs[i].p_adjusted).toBeCloseTo(p.p_adjusted, 5);
      expect(result.pairs[i].ci[0]).toBeCloseTo(p.ci95[0], 4);
    });
    const rigs = table('rigs.csv', 'specimen,mount,value,rig\nA,1,40,North\nA,2,41,North\nB,1,44,South\nB,2,45,South\n');
    const apart = JSON.parse(call('analyse', rigs, '--json').stdout);
    expect(apart.pairs).toEqual([]);
    expect(apart.findings).toContainEqual(expect.objectContaining({ code: 'rig_confounded', severity: 'reject' }));
  });
  it.each([
    [['analyse', csv, '--block', 'day'], 'the column "day" is missing; the header needs specimen, mount, value, day.'],
    [
      ['analyse', table('gap.csv', 'specimen,mount,value,day,rig\nA,1,40,D1,N\nB,1,41,D1,\n'), '--block', 'rig-day'],
      'row 3, column "rig": the rig is empty',
    ],
    [
      ['analyse', table('huge.csv', 'specimen,mount,value\nA,1,1e308\n')],
      'row 2, column "value": 1e308 is not a plausible value; up to ±1000000 is read.',
    ],
    [['analyse', csv, '--block', 'moon'], 'day, rig, rig-day'],
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

describe('./warm-gauge plan', () => {
  const plan = (...args: string[]) => JSON.parse(call('plan', '--json', ...args).stdout);
  it('prints the contract: detectable difference, mounts needed, order, hours; the same for the same seed', () => {
    const got = plan('--specimens', '4', '--mounts', '3', '--runs', '1', '--seed', '5');
    expect(got).toMatchObject({ school: 'pooled', rehearsal: null, days: 3 });
    expect(got.detectable_k).toBeGreaterThan(1);
    expect(Number.isInteger(got.mounts_needed)).toBe(true);
    expect(got.order[0]).toMatchObject({ day: 1, slot: 1, mount: 1, extra: false });
    expect(got.order).toHaveLength(12);
    expect(got.hours).toBeCloseTo((12 * 65) / 60, 10);
    // bracketed days begin and end with the reference, by extra mounts that take their time
    const bracketed = plan('--specimens', '4', '--mounts', '3', '--runs', '1', '--seed', '5', '--bracket');
    expect([bracketed.order[0], bracketed.order.at(-1)]).toMatchObject([
      { specimen: 'S1', extra: true },
      { specimen: 'S1', extra: true },
    ]);
    expect(bracketed.order).toHaveLength(18);
    expect(plan('--specimens', '4', '--mounts', '3', '--runs', '1', '--seed', '5')).toEqual(got);
  });
  it('keeps waits, late specimens and coupons', () => {
    const got = plan(
      '--specimens',
      '3',
      '--mounts',
      '3',
      '--runs',
      '1',
      '--last',
      'S3',
      '--wait',
      'S2=1',
      '--coupons',
      'S3=2',
      '--rigs',
      '2',
    );
    expect(got.order.filter((m: { specimen: string }) => m.specimen === 'S3')).toHaveLength(2);
    const waited = got.order.find((m: { specimen: string }) => m.specimen === 'S2');
    expect(waited.end_min - waited.start_min).toBe(25 + 60 + 40);
    expect(got.findings.map((f: { code: string }) => f.code)).toContain('stock_short');
  });
  it('rehearses: shares of verdicts, none wrong beyond the error where nothing differs', () => {
    const { rehearsal } = plan('--specimens', '3', '--mounts', '4', '--scatter', 'pooled', '--rehearse', '400');
    expect(rehearsal.correct + rehearsal.wrong + rehearsal.unresolved).toBeCloseTo(1, 10);
    expect(rehearsal.wrong_any).toBeLessThan(0.09);
    const apart = plan('--specimens', '3', '--mounts', '4', '--rehearse', '200', '--true', 'S2=5', '--true', 'S3=10').rehearsal;
    expect(apart.correct).toBeGreaterThan(0.97);
  });
  it('says what does not fit into a day instead of an order', () => {
    const got = plan('--day-hours', '2');
    expect(got).toMatchObject({ order: [], hours: null });
    expect(got.findings.find((f: { code: string }) => f.code === 'day_too_short').nearest).toBe('A day of 2.5 h, or 2 runs on each mount.');
    expect(call('plan').stdout).toContain('bench hours on');
  });
  it.each([
    [['--specimens', '1'], '1 is outside 2 to 60.'],
    [['--mounts', '2.5'], '2.5 is not a whole number.'],
    [['--last', 'S9'], '--last S9: there is no such specimen; they are S1 to S8.'],
    [['--family', 'some'], '"some" is not one of all, reference.'],
    [['--wait', 'S2'], '"S2" should be NAME=VALUE.'],
  ])('refuses %j in one line', (args, message) => {
    const { status, stderr, lines } = call('plan', ...args);
    expect(status).toBe(2);
    expect(lines).toBe(1);
    expect(stderr).toContain(message);
  });
});

describe('./warm-gauge rank', () => {
  const file = vectors<
    { reference: string; rows: { setup: string; material: string; mean: number; variance: number }[] },
    { tau: number; rows?: number; parameters?: number }
  >('ranking');
  const [, star] = file.cases;
  const setups = () =>
    table(
      'setups.csv',
      `setup,material,mean,variance\n${star.input.rows.map((r) => `${r.setup},${r.material},${r.mean},${r.variance}`).join('\n')}\n`,
    );

  it.each(file.cases.map((c) => [c.name, c] as const))('tells what the vectors have: %s', (_, { input, expected }) => {
    const rows = input.rows.map((r) => `${r.setup},${r.material},${r.mean},${r.variance}`).join('\n');
    const { status, stdout } = call(
      'rank',
      table('vector.csv', `setup,material,mean,variance\n${rows}\n`),
      '--json',
      '--reference',
      input.reference,
    );
    expect(status).toBe(0);
    // how many rows and parameters there are is no part of the contract
    const { rows: _rows, parameters: _parameters, ...told } = expected;
    expectWithin(JSON.parse(stdout), told, file.tolerance);
  });

  it('prints the contract as JSON, and the answer for a part in kelvin', () => {
    const { status, stdout } = call('rank', setups(), '--json', '--reference', 'M1', '--part-mm2', '180', '--power', '95');
    expect(status).toBe(0);
    const got = JSON.parse(stdout);
    expect(got.tau).toBeCloseTo(star.expected.tau, 4);
    expect(got).toMatchObject({ df: 1, pairs: { length: 6 }, not_connected: [] });
    const [first] = got.against_reference;
    expect(Object.keys(first)).toEqual(
      expect.arrayContaining(['a', 'b', 'difference', 'se', 'ci95', 'prediction95', 'prediction95_drawn', 'shared_setups']),
    );
    expect(got.for_part[0].delta_k).toBeCloseTo((95 * first.difference) / 180, 10);
    expect(JSON.parse(call('rank', setups(), '--json').stdout).against_reference).toEqual(got.against_reference);
  });

  it('tells them in sentences, the lowest first', () => {
    const { status, stdout } = call('rank', setups());
    expect(status).toBe(0);
    expect(
      stdout
        .split('\n')
        .slice(0, 3)
        .map((l) => l.slice(0, 14)),
    ).toEqual(['M4 against M1:', 'M3 against M1:', 'M2 against M1:']);
  });

  it.each([
    [['--reference', 'M9'], 'has no material "M9"; it has M1, M2, M3 and M4.'],
    [['--power', '95'], 'The answer for a part needs both --part-mm2 and --power.'],
  ])('refuses %j in one line', (more, message) => {
    const { status, stderr, lines } = call('rank', setups(), ...more);
    expect(status).toBe(2);
    expect(lines).toBe(1);
    expect(stderr).toContain(message);
  });
});
