import { describe, expect, it } from 'vitest';
import { check } from '#rules/validation';
import { StudyPlan } from './studyPlan';
import { TemplateStudy } from './templateStudy';
import { agesOver, mountsFor, namesOf, TEMPLATE_KEYS, TEMPLATES, templateTitle } from './templates';

const answers = { names: ['A', 'B', 'C'], margin: 1, days: null, clocks: { from: 2000, to: 2350, step: 50 } };

describe('a template', () => {
  it.each(TEMPLATE_KEYS)('%s gives a plan that holds the rules, and says each default in a sentence', (key) => {
    const { plan, defaults, question, about } = TEMPLATES[key];
    for (const days of [null, 1, 3, 1000]) {
      const made = plan({ ...answers, days });
      expect(check(StudyPlan, Object.fromEntries(Object.entries(made).filter(([, v]) => v !== null)))).toBeTruthy();
      for (const sentence of defaults({ ...answers, days })) expect(sentence).toMatch(/^[A-Z0-9].*\.$/);
    }
    expect(question).toMatch(/\?$/);
    expect(about).toMatch(/\.$/);
  });
  it('fits the mounts into the days there are', () => {
    // a bench day of 8 h holds three mounts of 25 min and three runs of 40 min
    expect(mountsFor({ names: ['A', 'B'], days: null })).toBe(5);
    expect(mountsFor({ names: ['A', 'B'], days: 2 })).toBe(3);
    expect(mountsFor({ names: ['A', 'B'], days: 100 })).toBe(5);
    expect(mountsFor({ names: Array(12).fill('A'), days: 1 })).toBe(1);
    expect(TEMPLATES.material.defaults({ ...answers, days: 1 })[0]).toMatch(
      /^1 mount of each with 3 runs.*One mount each does not show how they repeat/,
    );
    expect(TEMPLATES.material.defaults(answers)[0]).toBe('5 mounts of each with 3 runs, in random order.');
  });
  it('climbs the clocks that are asked for', () => {
    const { loads, outcomes } = TEMPLATES.clock.plan({ ...answers, margin: 50 });
    expect(loads?.[0].ladder?.map((s) => s.clock_mhz)).toEqual([2000, 2050, 2100, 2150, 2200, 2250, 2300, 2350]);
    expect(outcomes).toEqual([{ key: 'highest_clock', margin: 50 }]);
    expect(TEMPLATES.clock.plan({ ...answers, clocks: { from: 1, to: 100_000, step: 1 } }).loads?.[0].ladder).toHaveLength(60);
  });
  it('measures closer together at first', () => {
    expect(agesOver(60)).toEqual([0, 8, 15, 30, 60]);
    expect(agesOver(1)).toEqual([0, 1]);
  });
});

describe('names that are compared', () => {
  it('are one a line or parted by commas, each once', () => {
    expect(namesOf(' Amber nine\nBirch, Cedar;;\n Birch \n')).toEqual(['Amber nine', 'Birch', 'Cedar']);
    expect(namesOf('')).toEqual([]);
  });
  it('give the study a title', () => {
    expect(templateTitle('material', ['A', 'B'])).toBe('A and B');
    expect(templateTitle('material', ['A', 'B', 'C', 'D'])).toBe('A, B and 2 others');
    expect(templateTitle('repair', ['As found', 'Renewed'])).toBe('Before and after: As found and Renewed');
    expect(templateTitle('ageing', ['A'])).toBe('A over time');
    expect(templateTitle('material', [])).toBe('Which material runs coolest?');
    expect(templateTitle('material', ['x'.repeat(80), 'y'.repeat(80)]).length).toBeLessThanOrEqual(110);
  });
  it('are refused by their rules', () => {
    const study = { template: 'material', title: 'T', names: [{ name: 'A' }], margin: 1 };
    expect(() => check(TemplateStudy, { ...study, template: 'moon' })).toThrow('Choose the question');
    expect(() => check(TemplateStudy, { ...study, names: [] })).toThrow('A study starts with 1 to 40 things to compare.');
    expect(() => check(TemplateStudy, { ...study, names: [{ name: '' }] })).toThrow('A name of what is compared has 1 to 80 characters.');
    expect(() => check(TemplateStudy, { ...study, margin: 0 })).toThrow('The smallest difference that matters is a number');
    expect(() => check(TemplateStudy, { ...study, days: 1.5 })).toThrow('The days are a whole number from 1 to 1,000.');
    expect(() => check(TemplateStudy, { ...study, clocks: { from: 'x', to: 1, step: 1 } })).toThrow('The lowest clock');
  });
});
