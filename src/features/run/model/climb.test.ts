import { describe, expect, it } from 'vitest';
import { nextStep, withSteps } from './climb';
import { readLadder } from './ladderFile';
import { reduceValues, valuesProblem } from './typedRun';

const plan = [0.9, 1].flatMap((voltage_v) => [2000, 2050, 2100].map((clock_mhz) => ({ clock_mhz, voltage_v })));

describe('a ladder as it is climbed', () => {
  it('goes on to the next voltage where a step failed, and to its end', () => {
    const tried = (...ends: string[]) => ends.map((end, i) => ({ ...plan[i], end: end as 'passed' }));
    expect(nextStep(plan, [])).toEqual(plan[0]);
    expect(nextStep(plan, tried('passed', 'hung'))).toEqual(plan[3]);
    expect(nextStep(plan, [...tried('passed', 'hung'), ...plan.slice(3).map((s) => ({ ...s, end: 'passed' as const }))])).toBeNull();
  });
  it('keeps one end a step: the last that was entered', () => {
    const first = withSteps([], [{ ...plan[0], end: 'passed' }]);
    expect(withSteps(first, [{ ...plan[0], end: 'failed' }])).toEqual([{ ...plan[0], end: 'failed' }]);
    expect(withSteps(first, [], [plan[0]])).toEqual([]);
  });
  it('is a run that is complete without a temperature, and tells a pass above a failure', () => {
    const ladder = [
      { clock_mhz: 2000, end: 'passed' as const, temperature: '71', held: '5:00' },
      { clock_mhz: 2050, end: 'failed' as const },
      { clock_mhz: 2100, end: 'passed' as const },
    ];
    const reduction = reduceValues({ texts: {}, ladder }, {});
    expect(reduction).toMatchObject({ valid: true, rise_k: null, ladder: [{ temperature_c: 71, held_s: 300 }, {}, {}] });
    expect(reduction.findings.map((f) => f.code)).toEqual(['not_monotone']);
    expect(valuesProblem({ texts: {}, ladder: [{ clock_mhz: 2000, end: 'passed', held: 'long' }] })).toMatch(/no reading/);
  });
});

describe('a results file of a ladder', () => {
  it('is read with its units and words', () => {
    const rows = [
      ['Clock / GHz', 'Voltage (mV)', 'Result', 'Temp', 'Time / min'],
      ['2.10', '950', 'PASS', '71', '5'],
      ['2.15', '950', 'no boot', '', ''],
    ];
    expect(readLadder(rows)).toEqual([
      { clock_mhz: 2100, voltage_v: 0.95, end: 'passed', temperature: '71', held: '5 min' },
      { clock_mhz: 2150, voltage_v: 0.95, end: 'did_not_start' },
    ]);
  });
  it.each<[string[][], RegExp]>([
    [
      [
        ['a', 'b'],
        ['1', '2'],
      ],
      /should name the columns/,
    ],
    [[['clock', 'result']], /no step below/],
    [
      [
        ['clock', 'result'],
        ['2100', 'perhaps'],
      ],
      /Row 2: "perhaps" is no result/,
    ],
    [
      [
        ['clock', 'result'],
        ['fast', 'passed'],
      ],
      /Row 2: Clock: "fast"/,
    ],
    [
      [
        ['clock', 'result'],
        ['', 'passed'],
      ],
      /Row 2 has no clock/,
    ],
  ])('%j is refused in words', (rows, words) => {
    expect(readLadder(rows)).toMatch(words);
  });
});
