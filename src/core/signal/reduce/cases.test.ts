import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { LogError, type LogOptions, type Role } from '#core/signal/logs/types';
import { reduceLogs } from './reduceLogs';
import type { ReduceOptions, Reduction } from './types';

/** Simulated logs whose truth comes from the noise-free model, each with its own tolerances. */
interface Case {
  name: string;
  files: string[];
  options: string[];
  truth: {
    exit_codes: number[];
    stages?: { stage: string; start_s: number; end_s: number }[];
    sensors?: { name: string; mean_c?: number; rise_k?: number }[];
    channels?: { name: string; role?: string; stuck?: boolean }[];
    ambient_c?: Record<string, number>;
    bounds?: Record<string, [number, number]>;
    may_be_null?: string[];
    expect_findings?: string[];
    forbid_findings?: string[];
    clock_offset_s?: Record<string, number>;
  } & Record<string, unknown>;
  tolerance: Record<string, number>;
}

const folder = new URL('../../../../tests/reference/logs/', import.meta.url);
const cases: Case[] = JSON.parse(readFileSync(new URL('cases.json', folder), 'utf8'));
const FIGURES = [
  'samples',
  'period_s',
  'duration_s',
  'rise_k',
  'hottest_rise_k',
  'spread_k',
  'power_w',
  'r_k_per_w',
  'fan_rpm',
  'clock_mhz',
  'noise_db',
  'throttled_share',
];
const FLAGS = ['steady', 'censored', 'valid'];

function parseOptions(words: string[]): { reading: LogOptions; options: Partial<ReduceOptions> } {
  const reading: LogOptions = {};
  const options: Partial<ReduceOptions> = {};
  for (let i = 0; i < words.length; i++) {
    if (words[i] === '--limit') options.limit_c = Number(words[++i]);
    else if (words[i] === '--window') options.window_s = Number(words[++i]);
    else if (words[i] === '--sensor') options.sensor = words[++i];
    else if (words[i] === '--day-first') reading.day_first = true;
    else if (words[i] === '--role') {
      const [name, role] = words[++i].split('=');
      reading.roles = { ...reading.roles, [name]: role as Role };
    } else throw new Error(`option ${words[i]} of a case is not understood`);
  }
  return { reading, options };
}

const files = (c: Case) => c.files.map((name) => ({ name, bytes: new Uint8Array(readFileSync(new URL(name, folder))) }));

describe('simulated logs with known truth', () => {
  it.each(cases.filter((c) => !c.truth.one_line_message))('$name', (c) => {
    const { reading, options } = parseOptions(c.options);
    const { reduction: run } = reduceLogs(files(c), reading, options);
    const { truth, tolerance } = c;
    const near = (label: string, got: number | null | undefined, want: unknown, allowed: number) => {
      if (want === null) expect(got, label).toBeNull();
      else
        expect(Math.abs((got ?? Number.NaN) - (want as number)), `${label}: ${got} is not ${want} ± ${allowed}`).toBeLessThanOrEqual(
          allowed,
        );
    };
    for (const key of FIGURES) if (key in truth) near(key, run[key as keyof Reduction] as number, truth[key], tolerance[key] ?? 0);
    for (const key of FLAGS) if (key in truth) expect(run[key as keyof Reduction], key).toBe(truth[key]);
    for (const [key, want] of Object.entries(truth.ambient_c ?? {}))
      near(`ambient ${key}`, run.ambient_c?.[key as 'mean'], want, tolerance[`ambient_c.${key}`]);
    for (const s of truth.sensors ?? []) {
      const got = run.sensors.find((o) => o.name === s.name);
      if (s.mean_c !== undefined) near(`${s.name} mean`, got?.mean_c, s.mean_c, tolerance['sensors.mean_c']);
      if (s.rise_k !== undefined) near(`${s.name} rise`, got?.rise_k, s.rise_k, tolerance['sensors.rise_k']);
    }
    for (const ch of truth.channels ?? [])
      expect(
        run.channels.find((o) => o.name === ch.name),
        ch.name,
      ).toMatchObject(ch);
    for (const [file, want] of Object.entries(truth.clock_offset_s ?? {}))
      near(`offset of ${file}`, run.clock_offset_s[file], want, tolerance.clock_offset_s);
    if (truth.stages) {
      expect(run.stages.map((s) => s.stage)).toEqual(truth.stages.map((s) => s.stage));
      truth.stages.slice(1).forEach((s, i) => {
        near(`start of ${s.stage}`, run.stages[i + 1].start_s, s.start_s, tolerance.stages_s);
      });
    }
    for (const [key, [low, high]] of Object.entries(truth.bounds ?? {})) {
      const got = boundOf(run, key);
      if (got === null && truth.may_be_null?.includes('window')) continue;
      expect(got, key).toBeGreaterThanOrEqual(low);
      expect(got, key).toBeLessThanOrEqual(high);
    }
    const codes = run.findings.map((f) => f.code);
    expect(codes).toEqual(expect.arrayContaining(truth.expect_findings ?? []));
    expect(codes.filter((code) => truth.forbid_findings?.includes(code))).toEqual([]);
    expect(truth.exit_codes).toContain(run.valid ? 0 : 1);
  });

  it('header_only is refused with its name, its place and what would be right', () => {
    const c = cases.find((o) => o.name === 'header_only') as Case;
    expect(() => reduceLogs(files(c))).toThrow(LogError);
    expect(() => reduceLogs(files(c))).toThrow('header_only.csv, row 2: there is a header but no row of readings below it');
  });
});

function boundOf(run: Reduction, key: string): number | null {
  if (key === 'window_length_s') return run.window && run.window.end_s - run.window.start_s;
  if (key === 'window_end_s') return run.window?.end_s ?? null;
  const [part, name, field] = key.split('/');
  if (!name) return run[key as keyof Reduction] as number;
  const list = run[part as 'sensors' | 'channels'] as unknown as Record<string, number | string>[];
  return list.find((o) => o.name === name)?.[field] as number;
}
