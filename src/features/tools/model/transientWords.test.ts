import { describe, expect, it } from 'vitest';
import type { Parting } from '#core/thermal/transient/types';
import { partingNotes, partingWords, structureSentence } from './transientWords';

const of = (value: number, se = 0.001) => ({ value, se });
const layer = (r: number, until: number) => ({ c: of(10), r: of(r), until: of(until), least: null });
const parting: Parting = {
  ...{
    kind: 'one_layer',
    at: of(0.0645),
    ends: [of(0.148), of(0.16)],
    more: of(0.0115),
    others: [],
    before_j_per_k: of(91),
    is_last: false,
  },
  ...{ totals: [of(0.308), of(0.32)], layers: [[], []], within: null, misfit: 1 },
};
const names: [string, string] = ['Fresh', 'Aged'];

describe('what a step is told as', () => {
  it('names the whole, how many layers, and the largest', () => {
    const step = { sensor: 'Die 1' };
    expect(structureSentence(step, { layers: [layer(0.06, 0.06), layer(0.24, 0.3)], total: of(0.3) })).toBe(
      'From Die 1 to the room 0.300 K/W in two layers; the largest, 0.240 K/W, is the last one, into the room.',
    );
    expect(structureSentence(step, { layers: [layer(0.3, 0.3)], total: of(0.3) })).toBe(
      'From Die 1 to the room 0.300 K/W, all in one layer.',
    );
    expect(structureSentence(step, { layers: [layer(0.2, 0.2), layer(0.1, 0.3)], total: of(0.3) })).toContain('the first one, at the part');
    expect(structureSentence(step, { layers: [layer(0.05, 0.05), layer(0.15, 0.2), layer(0.1, 0.3)], total: of(0.3) })).toContain(
      'is number 2',
    );
  });
  it('says interface or cooler first, then where they part', () => {
    const words = partingWords(parting, names, 140);
    expect(words.claim).toBe('An interface, not the cooler: Aged runs 1.6 K warmer than Fresh at 140 W.');
    expect(words.basis).toContain('They part 0.0645 K/W from the sensor (95 % 0.0625 to 0.0665), by one layer alone');
    expect(partingWords({ ...parting, is_last: true, more: of(-0.0115) }, names, 140).claim).toBe(
      'The way into the air, no interface: Aged runs 1.6 K cooler than Fresh at 140 W.',
    );
    expect(partingWords({ ...parting, kind: 'from_here_on' }, names, 140).claim).toContain('More than one layer');
    expect(partingWords({ ...parting, kind: 'from_the_start' }, names, 140).claim).toContain('Another part');
    expect(partingWords({ ...parting, kind: 'alike', at: null, more: null }, names, 140).claim).toBe('Fresh and Aged are alike.');
    expect(partingWords({ ...parting, at: of(0, 0) }, names, 140).basis).toContain('at the sensor itself');
  });
  it('says only as much as slow or short logs bear', () => {
    const near = partingWords({ ...parting, within: 0.15 }, names, 140);
    expect(near.claim).toBe('Close to the sensor: Aged runs 1.6 K warmer than Fresh at 140 W.');
    expect(near.basis).toBe('They part within 0.150 K/W of it; where there, the logs are too slow to tell.');
    expect(partingWords({ ...parting, is_last: true, totals: null }, names, 140)).toEqual({
      claim: 'Fresh and Aged differ in the last layer.',
      basis: 'By how much cannot be told: a log ends before its temperature does.',
    });
    expect(structureSentence({ sensor: 'Die 1' }, { layers: [layer(0.3, 0.3)], total: null })).toBe(
      'From Die 1 on one layer; the log ends before the last one can be told.',
    );
  });
  it('gives the mass that stores as much, and places that tell it as well', () => {
    expect(partingNotes({ ...parting, others: [0.12] }).join(' ')).toMatch(
      /0\.24 kg of copper or 0\.10 kg of aluminium.*begins 0\.120 K\/W/,
    );
    expect(partingNotes({ ...parting, kind: 'alike', before_j_per_k: null })).toEqual([]);
  });
});
