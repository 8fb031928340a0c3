import { describe, expect, it } from 'vitest';
import { analyse } from '#core/compare/analyse';
import { readRunTable } from '#core/compare/runTable';
import { LogError } from '#core/signal/logs/types';
import { compareStudy, optionsFor, studyChoice } from '#features/results/model/choice';
import type { RunFact, StudyFacts } from '#features/results/model/facts';
import { runFact, studyFacts } from '../../../../tests/studyFacts';
import { valuesTable } from './studyResults';

const run = runFact;
const mounts = (specimen: string, values: number[], more: Partial<RunFact> = {}) => values.map((v, i) => run(specimen, i + 1, v, more));
const facts = (runs: RunFact[], more: Partial<StudyFacts> = {}): StudyFacts => ({ ...studyFacts(runs), ...more });
const three = [
  ...mounts('R', [41, 41.6, 40.8, 41.2]),
  ...mounts('A, 2', [39.2, 39.9, 39.1, 39.8]),
  ...mounts('"B"', [40.9, 41.9, 41.2, 40.6]),
];

const STUDIES: Record<string, [StudyFacts, number]> = {
  plain: [facts(three), 0.95],
  'looked at': [facts(three), 0.9969],
  blocked: [facts(three, { block: 'day' }), 0.95],
  'against the reference': [facts(three, { family: 'reference' }), 0.95],
  throttled: [
    facts([...three, run('"B"', 5, 50, { valid: false, censored: true }), ...mounts('Slip', [52, 53], { valid: false, censored: true })]),
    0.95,
  ],
  'one mount with the scatter of the lab': [
    facts([...three.slice(0, 2), run('One', 1, 39)], { borrowed: { One: { sd: 0.7, df: 14, from: 'this lab' } } }),
    0.95,
  ],
  'one mount of an odd default': [facts([run('R', 1, 41), run('One', 1, 39)], { default_mount_sd: 0.31 }), 0.95],
  'two loads': [
    facts([...three.map((r) => ({ ...r, load: '140 W' })), ...three.map((r) => ({ ...r, load: '75 W', values: { rise: 20 } }))], {
      loads: ['75 W', '140 W'],
    }),
    0.95,
  ],
  'left out by hand, of an own margin': [
    facts([...three, run('R', 9, 70, { mount_reason: 'lifted, then put on again' })], { margin_k: 0.4 }),
    0.95,
  ],
};

describe('the exported table gives the verdicts of the results page', () => {
  it.each(Object.entries(STUDIES))('%s', (_, [study, confidence]) => {
    const choice = studyChoice(study);
    const text = valuesTable(study, choice, confidence);
    for (const outcome of ['rise', 'r_k_per_w'] as const) {
      const page = compareStudy(study, { ...choice, outcome }, confidence);
      const table = readRunTable('values.csv', text, outcome);
      const { load: _load, ...choices } = table.choices;
      if (!page) continue;
      const told = analyse(table.rows, { ...choices, outcome, chances: false });
      expect(told.pairs).toEqual(page.pairs);
      expect(told.specimens).toEqual(page.specimens);
      expect(told.sentences.length).toBeGreaterThan(0);
      expect(choices.margin).toBe(optionsFor(study, { ...choice, outcome }, confidence).margin);
    }
  });
  it('a line of choices that was changed is refused, or what it says is taken', () => {
    const [study, confidence] = STUDIES.plain;
    const text = valuesTable(study, studyChoice(study), confidence);
    expect(() => readRunTable('v.csv', text.replace('"confidence":0.95', '"confidence":"high"'), 'rise')).toThrow(LogError);
    expect(() => readRunTable('v.csv', text.replace('{"rise"', '{rise'), 'rise')).toThrow('the line of choices cannot be read');
    expect(readRunTable('v.csv', text.replace('"confidence":0.95', '"confidence":0.9'), 'rise').choices.confidence).toBe(0.9);
  });
  it('a bound is a bound, whatever the row says of its validity', () => {
    const { rows } = readRunTable('v.csv', 'specimen,mount,value,at_least,valid\nA,1,41,,true\nA,2,,50,true\n', 'rise');
    expect(rows.map((r) => [r.value, r.valid, r.censored])).toEqual([
      [41, true, false],
      [50, false, true],
    ]);
  });
  it('a table of a spreadsheet with decimal commas reads the same', () => {
    const rows = three.map((r) => [r.specimen.replace(/[",]/g, ''), r.mount, String(r.values.rise).replace('.', ',')].join(';'));
    const { rows: read } = readRunTable('v.csv', `specimen;mount;value\n${rows.join('\n')}\n`, 'rise');
    expect(read.map((r) => r.value)).toEqual(three.map((r) => r.values.rise));
  });
});
