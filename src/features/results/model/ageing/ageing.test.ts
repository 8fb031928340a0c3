import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { agesProblem, readAges } from '#features/study/model/ages';
import { runFact, studyFacts } from '../../../../../tests/studyFacts';
import type { RunFact } from '../facts';
import { answerAgeing } from './ageingAnswer';

const DAY = 86_400;
const START = 1_780_000_000;

function followed(specimen: string, of: (age: number) => number, ages: number[], { mounts = 4, step = DAY, sd = 0.1 } = {}): RunFact[] {
  const random = seededRandom(3);
  return Array.from({ length: mounts }, (_, m) => {
    const steeper = 1 + sd * random.normal();
    return ages.map((age, i) => ({
      ...runFact(specimen, m + 1, 0, { run: i + 1, mount_id: 100 * specimen.length + m, day: null, at_s: START + m * 3000 + age * step }),
      values: { rise: 40 + steeper * of(age) },
    }));
  }).flat();
}

function answer(runs: RunFact[], ages: number[] = [], by: 'time' | 'cycles' = 'time') {
  return answerAgeing(studyFacts(runs, { ages }), by);
}

describe('ages of a plan', () => {
  it('are rising numbers of days, however they are parted', () => {
    expect(readAges('0, 7; 14 30')).toEqual([0, 7, 14, 30]);
    expect(readAges('')).toEqual([]);
    for (const bad of ['7, 7', '30, 7', '-1, 2', '1e9', 'soon', Array.from({ length: 31 }, (_, i) => i).join()])
      expect(agesProblem(bad)).toMatch(/^Ages are up to 30 numbers/);
    expect(agesProblem('0, 7')).toBeNull();
  });
});

describe('a study over the age of its mounts', () => {
  const AGES = [0, 7, 14, 30, 60];
  it('tells who lost and who stayed, and leads with the loss', () => {
    const told = answer([...followed('Wick 60', () => 0, AGES), ...followed('Bramble 5', (t) => 0.03 * t, AGES)]);
    expect(told?.unit).toBe('d');
    expect(told?.headline).toMatch(
      /^Bramble 5 runs 1\.[6-9] K warmer after 60 days \(95 % 1\.\d to 2\.\d, 4 mounts\), 0\.9 K a month \(0\.\d to 1\.\d\)\.$/,
    );
    expect(told?.specimens[0].sentence).toMatch(/^Wick 60 is after 60 days as it was, within 1 K: it changed by 0\.0 K/);
    expect(told?.specimens[1].line.at(-1)?.age).toBe(60);
  });
  it('keeps loads and set fan speeds apart: a sweep or a second load is no ageing', () => {
    const at = (runs: RunFact[], more: Partial<RunFact>, warmer: number, rpm: number) =>
      runs.map(
        (r): RunFact => ({ ...r, ...more, run_id: r.run_id + rpm, values: { rise: (r.values.rise as number) + warmer, fan_speed: rpm } }),
      );
    const light = at(
      followed('Wick 60', () => 0, AGES),
      { load: 'light' },
      -10,
      1200,
    );
    const heavy = at(
      followed('Wick 60', () => 0, [0, 7, 14]),
      { load: 'heavy' },
      10,
      1210,
    );
    const told = answer([...heavy, ...light]);
    expect(told?.specimens.map((s) => s.name)).toEqual(['Wick 60, heavy,', 'Wick 60, light,']);
    for (const s of told?.specimens ?? []) expect(s.sentence).toMatch(/is after \d+ days as it was/);
    const sweep = [600, 900, 1400].flatMap((rpm, i) =>
      at(
        followed('Fin', () => 0, [i * 0.03]),
        { load: null },
        -i * 4,
        rpm,
      ),
    );
    expect(answer(sweep)).toBeNull();
  });
  it('counts hours where it lasted for less than three days', () => {
    const told = answer(followed('Epoxy', (t) => -2 * (1 - Math.exp(-t / 5)), [0, 3, 6, 12, 24, 48], { step: 3600 }));
    expect(told?.unit).toBe('h');
    expect(told?.headline).toMatch(/^Epoxy runs 2\.\d K cooler after 48\.0 hours \(.*\): it conditioned, cured or thinned out\.$/);
  });
  it('says what is missing, and nothing where no mount was measured twice', () => {
    expect(answer(followed('Pad', () => 0, [0, 30]))?.headline).toMatch(
      /^Pad was measured at two ages only; a course takes three, on the same mounts\. Between 0 days and 30 days it changed by 0\.0 K \(95 % .* 4 mounts\)\.$/,
    );
    // the mounts' changes of 2.9, 3.0 … bound what they have in common
    const lost = answer(followed('Pad', (t) => 0.1 * t, [0, 30]))?.headline ?? '';
    const [, value, low, high] = /by \+([\d.]+) K \(95 % ([\d.]+) to ([\d.]+)/.exec(lost)?.map(Number) ?? [];
    expect(low).toBeLessThan(3);
    expect(high).toBeGreaterThan(3);
    expect((low + high) / 2).toBeCloseTo(value, 0);
    expect(answer(followed('Pad', (t) => 0.1 * t, [0, 30], { mounts: 1 }))?.headline).toMatch(
      /in one mount, which says nothing about another\.$/,
    );
    expect(answer(followed('Pad', () => 0, [0]))).toBeNull();
    expect(answer([])).toBeNull();
    const untimed = followed('Pad', () => 0, AGES).map((r) => ({ ...r, at_s: null }));
    expect(answer(untimed)).toBeNull();
  });
  it('counts load cycles where they are asked for, those that do not count too', () => {
    const runs = followed('Pad', (t) => 0.03 * t, AGES).map((r) => (r.run === 2 ? { ...r, valid: false } : r));
    const told = answer(runs, [], 'cycles');
    expect(told?.unit).toBe('cycles');
    expect(told?.specimens[0].values.filter((v) => v.mount === '1').map((v) => v.age)).toEqual([0, 2, 3, 4]);
    expect(told?.headline).toMatch(/after 4 cycles .*(K a cycle|more slowly as time goes on|along no simple course)/);
  });
  it('leaves out what a person left out, and says of one mount that it is one', () => {
    const runs = followed('Bramble 5', (t) => 0.03 * t, AGES).map((r) => (r.mount > 1 ? { ...r, mount_reason: 'tilted' } : r));
    expect(answer(runs)?.headline).toContain('one mount, which says nothing about another');
  });
  it('names the next planned age of every mount with its date', () => {
    const due = answer(
      followed('Pad', () => 0, [0, 7, 14.2]),
      [0, 7, 14, 30, 60],
    )?.due;
    expect(due?.map((d) => [d.mount, d.age_days, d.due_s])).toEqual([0, 1, 2, 3].map((m) => [m + 1, 30, START + m * 3000 + 30 * DAY]));
    expect(
      answer(
        followed('Pad', () => 0, [0, 7, 60]),
        [0, 7, 60],
      )?.due,
    ).toEqual([]);
  });
});
