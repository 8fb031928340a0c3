import { describe, expect, it } from 'vitest';
import { numberWithin } from '#ui/Form.tsx';
import { textOf } from '../../../../tests/markup.ts';
import { ConductivityTool } from './ConductivityTool.tsx';
import { DoseTool } from './DoseTool.tsx';
import { FlatnessTool } from './FlatnessTool.tsx';
import { NoiseTool } from './NoiseTool.tsx';
import { StackTool } from './StackTool.tsx';
import { TighteningTool } from './TighteningTool.tsx';
import { TransientTool } from './TransientTool.tsx';

const bare = { mount: null };

describe('a number as it is typed', () => {
  it.each([
    ['12', 12],
    [' 3,5 ', 3.5],
    ['0', 0],
    ['100', 100],
    ['100.1', null],
    ['-0.1', null],
    ['', null],
    ['1e', null],
    ['two', null],
  ])('%j is %s', (text, value) => {
    expect(numberWithin(text, 0, 100)).toBe(value);
  });
});

describe('the tools on an empty shelf', () => {
  it('dose tells amounts for a lid', () => {
    const text = textOf(DoseTool, { setting: bare, materials: [] });
    expect(text).toMatch(/\d mg|\d µl|\d mm³/);
  });
  it('tightening draws an order of screws', () => {
    const text = textOf(TighteningTool, { setting: bare });
    expect(text).toMatch(/N·m/);
    expect(text).toMatch(/round/i);
  });
  it('flatness waits for heights', () => {
    expect(textOf(FlatnessTool, { setting: bare })).toMatch(/µm/);
  });
  it('noise takes the room out of a reading', () => {
    expect(textOf(NoiseTool, {})).toMatch(/\d+\.\d dB/);
  });
  it('conductivity is the slope of its example, with intervals', () => {
    const text = textOf(ConductivityTool, {});
    expect(text).toMatch(/W\/\(?m·?K\)?/);
    expect(text).toMatch(/95 %/);
  });
  it('the stack sums to its whole, and says what a perfect interface would leave', () => {
    const text = textOf(StackTool, { materials: [], wholes: [] });
    const kelvins = [...text.matchAll(/(\d+\.\d) K \d+ %/g)].map((m) => Number(m[1]));
    const whole = Number(/together (\d+\.\d) K/.exec(text)?.[1]);
    expect(kelvins.length).toBeGreaterThan(4);
    expect(Math.abs(kelvins.reduce((a, b) => a + b, 0) - whole)).toBeLessThan(0.05 * kelvins.length + 0.05);
    expect(text).toContain('Perfect interface');
  });
  it('the transient says what it needs', () => {
    const text = textOf(TransientTool, { runs: [] });
    expect(text).toMatch(/^Was it the interface or the cooler\?/);
    expect(text).toContain('No run is stored yet');
  });
});

describe('the tools with what the shelf and the studies hold', () => {
  it('the stack offers what was measured, one by one and over all studies', () => {
    const whole = (study_id: number, study: string, k_per_w: number) => ({
      study_id,
      study,
      specimen: 'Loam White',
      k_per_w,
      se: 0.001,
      mounts: 5,
      power_w: 140,
    });
    const text = textOf(StackTool, {
      materials: [{ name: 'Tarn', k: 70, thickness_mm: 0.04 }],
      wholes: [whole(1, 'Eight', 0.292), whole(2, 'Hut', 0.301), { ...whole(1, 'Eight', 0.3), specimen: 'Alder Grey', mounts: 1 }],
    });
    expect(text).toContain('Loam White: all of these studies that measured it, together');
    expect(text).toContain('Alder Grey: 0.300 K/W, 1 mount (Eight)');
    expect(text).toContain('Tarn');
  });
  it('the transient lists runs by study, and says how many are fast enough', () => {
    const run = (run_id: number, period_s: number | null) => ({
      run_id,
      study: 'Sixty days',
      name: `Bramble 5, mount 1, run ${run_id}`,
      files: ['a.csv'],
      reading: {},
      period_s,
    });
    const text = textOf(TransientTool, { runs: [run(1, 0.1), run(2, 5), run(3, null)] });
    expect(text).toContain('Bramble 5, mount 1, run 1 (every 0.1 s)');
    expect(text).toContain('1 of the stored runs has readings every 0.5 s or faster');
    expect(textOf(TransientTool, { runs: [run(2, 5)] })).toContain('layers near the part will not show');
  });
});
