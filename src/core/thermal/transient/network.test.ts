import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { expectWithin, vectors } from '../../../../tests/vectors';
import { cauerLadder, cumulativeStructure } from './cauer';
import { type FosterChain, fosterCapacities, stepResponse, totalResistance } from './foster';

interface Input {
  foster: FosterChain;
  t: number[];
}

describe('thermal networks against values from other software', () => {
  const file = vectors<Input, { zeta: number[]; total_resistance: number; foster_C: number[]; cauer: { R: number[]; C: number[] } }>(
    'thermal_network',
  );
  it.each(file.cases)('$name', ({ input: { foster, t }, expected }) => {
    const got = {
      zeta: t.map((x) => stepResponse(foster, x)),
      total_resistance: totalResistance(foster),
      foster_C: fosterCapacities(foster),
      cauer: cauerLadder(foster),
    };
    expectWithin(got, expected, file.tolerance);
  });
});

/** Impedance of a ladder at a real frequency, from its far end to the junction. */
function ladderImpedance({ R, C }: { R: number[]; C: number[] }, s: number): number {
  let z = 0;
  for (let i = R.length - 1; i >= 0; i--) z = 1 / (s * C[i] + 1 / (R[i] + z));
  return z;
}

const fosterImpedance = ({ R, tau }: FosterChain, s: number) => R.reduce((sum, r, i) => sum + r / (1 + s * tau[i]), 0);

describe('a ladder', () => {
  const stage = fc.tuple(fc.double({ min: 0.01, max: 2, noNaN: true }), fc.double({ min: -4, max: 3, noNaN: true }));
  it('has the impedance of its chain at every frequency, its whole resistance, and positive parts only', () => {
    fc.assert(
      fc.property(fc.array(stage, { minLength: 1, maxLength: 25 }), fc.double({ min: -4, max: 4, noNaN: true }), (stages, lg) => {
        const sorted = stages.map(([, l]) => l).sort((a, b) => a - b);
        fc.pre(sorted.every((l, i) => i === 0 || l - sorted[i - 1] > 0.05));
        const foster = { R: stages.map(([r]) => r), tau: stages.map(([, l]) => 10 ** l) };
        const ladder = cauerLadder(foster);
        expect([...ladder.R, ...ladder.C].every((v) => v > 0)).toBe(true);
        const s = 10 ** lg;
        expect(ladderImpedance(ladder, s) / fosterImpedance(foster, s)).toBeCloseTo(1, 7);
        expect(ladder.R.reduce((a, b) => a + b, 0) / totalResistance(foster)).toBeCloseTo(1, 7);
      }),
    );
  });
  it('does not depend on the order of the stages, and takes equal time constants as one', () => {
    const foster = { R: [0.1, 0.2, 0.3], tau: [0.01, 1, 30] };
    const turned = cauerLadder({ R: [0.3, 0.1, 0.2], tau: [30, 0.01, 1] });
    expect(turned).toEqual(cauerLadder(foster));
    expect(cauerLadder({ R: [0.1, 0.1, 0.3], tau: [1, 1, 30] })).toEqual(cauerLadder({ R: [0.2, 0.3], tau: [1, 30] }));
  });
  it('adds up to its cumulative structure', () => {
    const ladder = cauerLadder({ R: [0.1, 0.2, 0.3], tau: [0.01, 1, 30] });
    const points = cumulativeStructure(ladder);
    expect(points[0]).toEqual({ r: 0, c: ladder.C[0] });
    expect(points.at(-1)?.c).toBeCloseTo(
      ladder.C.reduce((a, b) => a + b, 0),
      9,
    );
  });
  it('needs stages, all of them positive', () => {
    expect(() => cauerLadder({ R: [], tau: [] })).toThrow('at least one stage');
    expect(() => cauerLadder({ R: [0.1, 0], tau: [1, 2] })).toThrow('positive');
  });
});
