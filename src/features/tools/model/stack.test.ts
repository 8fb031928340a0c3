import { describe, expect, it } from 'vitest';
import { type StackLayer, solveStack, withLayer } from '#core/thermal/stack/stack';
import { fieldsOfLayer, STARTING_STACK } from './stackStart';
import { plateFor, stackSentence, triedChanges } from './stackWhatIf';

describe('a stack that is asked what if', () => {
  const now = solveStack(STARTING_STACK);
  const tried = triedChanges(STARTING_STACK, { name: 'Tarn', k: 70, thickness_mm: 0.02 });
  const gain = (name: RegExp) => tried.find((t) => name.test(t.name))?.gain_k ?? Number.NaN;
  it('gains by each change what its network says, and most by none more than the perfect interface of that place', () => {
    expect(tried).toHaveLength(7);
    for (const t of tried) expect(t.die_c + t.gain_k).toBeCloseTo(now.die_c, 9);
    expect(gain(/Room/)).toBeCloseTo(5, 9);
    expect(gain(/quarter/)).toBeGreaterThan(0.25 * 0.14 * 140 - 1);
    expect(gain(/Tarn/)).toBeGreaterThan(0);
    expect(gain(/Tarn/)).toBeLessThan(gain(/Perfect/));
    expect(gain(/half/)).toBeCloseTo(140 * (0.385e-3 / (120 * 320e-6)), 6);
  });
  it('puts a plate into the gap of a pad, and takes the one that is asked for', () => {
    const padded = withLayer(STARTING_STACK, 'interface_2', (l) => ({ ...l, k: 6, thickness_mm: 1 }) as StackLayer);
    expect(plateFor(STARTING_STACK).thickness_mm).toBe(0.5);
    expect(plateFor(padded).thickness_mm).toBe(0.91);
    const put = { k: 200, thickness_mm: 2, paste_mm2_k_per_w: 10 };
    const to = triedChanges(padded, null, put).find((t) => /Plate of 2\.00 mm/.test(t.name));
    // 2 mm / 200 W/(m·K) + 2 × 10 mm²·K/W, over 1369 mm²
    const direct = withLayer(padded, 'interface_2', ({ key, name }) => ({ key, name, kind: 'known', k_per_w: (10 + 20) / 1369 }));
    expect(to?.die_c).toBeCloseTo(solveStack(direct).die_c, 9);
  });
  it('says whether the cooler is the limit', () => {
    expect(stackSentence(STARTING_STACK, now)).toMatch(
      /^Even a perfect interface under the cooler would leave \d\d\.\d of \d\d\.\d K\. Largest part: sink to the air, \d\d\.\d K\.$/,
    );
    expect(stackSentence({ ...STARTING_STACK, layers: [] }, solveStack({ ...STARTING_STACK, layers: [] }))).toBe('');
  });
  it('has fields for what each layer is made of', () => {
    for (const layer of STARTING_STACK.layers)
      for (const f of fieldsOfLayer(layer)) expect(layer[f.key as keyof StackLayer]).toBeTypeOf('number');
  });
});
