import { describe, expect, it } from 'vitest';
import { loadPrograms, programsProblem } from './loadFigures';
import { partLimitsProblem, readPartLimits, unreadSensors } from './partLimits';

describe('limits of parts as typed', () => {
  it('name each part, its sensors and its limit', () => {
    expect(readPartLimits('Memory: Mem 1, Mem 2 = 95; Regulator: VRM = 110,5 °C')).toEqual([
      { part: 'Memory', sensors: ['Mem 1', 'Mem 2'], limit_c: 95 },
      { part: 'Regulator', sensors: ['VRM'], limit_c: 110.5 },
    ]);
    expect(readPartLimits('')).toEqual([]);
  });
  it.each([
    'Memory 95',
    'Memory: = 95',
    ': Mem = 95',
    'Memory: Mem = hot',
    'Memory: Mem = 950',
    'A: x = 90; A: y = 90',
    Array(13)
      .fill('P: s = 90')
      .map((p, i) => p.replace('P', `P${i}`))
      .join(';'),
  ])('say what is wrong with %s', (text) => {
    expect(partLimitsProblem(text)).toMatch(/^Limits are up to 12 parts/);
  });
});

describe('sensors that are given a limit', () => {
  const limits = [
    { part: 'Memory', sensors: ['Mem 1', 'Mem 2'], limit_c: 95 },
    { part: 'Regulator', sensors: ['VRM'], limit_c: 110 },
  ];
  it('are missed by name, with those there are', () => {
    expect(unreadSensors(limits, ['Mem 1', 'Mem 2', 'VRM', 'Die'])).toBeNull();
    expect(unreadSensors(limits, ['Mem 1', 'Mem 2', 'Vrm'])).toBe(
      'No run has the sensor "VRM" that the plan or the rig names; the logs name Mem 1, Mem 2, Vrm.',
    );
    expect(unreadSensors(limits, ['Die'])).toContain('the sensors "Mem 1", "Mem 2", "VRM"');
    expect(unreadSensors(limits, [])).toBeNull();
  });
});

describe('a load of several programs', () => {
  const load = { name: 'Both', program: 'correlate', beside: 'copy, render', ended_by: 'render' };
  it('is ended by one of them', () => {
    expect(loadPrograms(load)).toEqual(['correlate', 'copy', 'render']);
    expect(programsProblem(load)).toBeNull();
    expect(programsProblem({ ...load, ended_by: 'paint' })).toBe(
      'Both ends with "paint", which is not one of its programs (correlate, copy, render).',
    );
    expect(programsProblem({ ...load, program: null })).toContain('no program of its own');
    expect(programsProblem({ name: 'One', program: 'correlate' })).toBeNull();
  });
});
