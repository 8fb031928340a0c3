import { describe, expect, it } from 'vitest';
import { openQuestions, studyStack } from './studyStack';

const material = { name: 'Wick 60', sheet: { conductivity_w_per_mk: 6, bond_line_um: 30 } };

describe('the stack of a study', () => {
  it('starts from what the shelf and the runs know, and asks for the rest one by one', () => {
    const { stack, known } = studyStack({
      rig: { contact: 'lid', contact_length_mm: 37, contact_width_mm: 37 },
      ...{ material, power_w: 140.2, room_c: 22.6 },
    });
    expect(stack).toMatchObject({ power_w: 140.2, room_c: 22.6 });
    expect(stack.layers.find((l) => l.key === 'interface_2')).toMatchObject({ name: 'Wick 60', k: 6, thickness_mm: 0.03, area_mm2: 1369 });
    expect(known).toEqual(['lid area_mm2', 'interface_2 area_mm2', 'interface_2 k', 'interface_2 thickness_mm', 'base source_mm2']);
    const asked = openQuestions(stack, known);
    expect(asked[0].words).toBe('Die: How well does it conduct?');
    expect(asked.some((q) => known.includes(`${q.layer} ${q.field.key}`))).toBe(false);
    expect(asked.some((q) => q.layer === 'sink')).toBe(false);
    expect(openQuestions(stack, [...known, 'die k'])[0].words).toBe('Die: How thick is it?');
  });
  it('of a bare die has no lid, and takes the contact for the die', () => {
    const { stack } = studyStack({
      rig: { contact: 'die', contact_length_mm: 20, contact_width_mm: 16 },
      material: null,
      power_w: null,
      room_c: null,
    });
    expect(stack.layers.map((l) => l.key)).toEqual(['die', 'interface_2', 'base', 'sink']);
    expect(stack.layers[0]).toMatchObject({ area_mm2: 320 });
    expect(stack.layers[1]).toMatchObject({ name: 'Under the cooler', area_mm2: 320 });
  });
  it('of nothing known is the usual one', () => {
    const { stack, known } = studyStack({ rig: null, material: null, power_w: null, room_c: null });
    expect([stack.layers.length, known]).toEqual([6, []]);
  });
});
