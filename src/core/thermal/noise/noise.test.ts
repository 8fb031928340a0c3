import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitCooler } from '#core/thermal/coolers/coolerFit';
import { expectWithin, vectors } from '../../../../tests/vectors';
import { fitLevel, levelAt, rpmAtLevel } from './levelFit';
import { atDistance, backgroundCorrected, energeticAverage, sourceLevel } from './levels';

interface Input {
  kind: 'energetic_average' | 'background_corrected' | 'level_fit' | 'cooler_fit';
  levels: number[];
  level: number & number[];
  background: number;
  rpm: number[];
  delta_t: number[];
  target_level: number;
}

function answer(input: Input): unknown {
  switch (input.kind) {
    case 'energetic_average':
      return { level: energeticAverage(input.levels) };
    case 'background_corrected':
      return { level: backgroundCorrected(input.level, input.background) };
    case 'level_fit': {
      const fit = fitLevel(input.rpm, input.level);
      return { ...fit, rpm_at_target: fit && rpmAtLevel(fit, input.target_level) };
    }
    case 'cooler_fit':
      return fitCooler(input.rpm, input.delta_t);
  }
}

describe('noise against values from other software', () => {
  const file = vectors<Input, Record<string, unknown>>('noise');
  it.each(file.cases)('$name', ({ input, expected }) => expectWithin(answer(input), expected, file.tolerance));
});

const dB = fc.double({ min: 0, max: 120, noNaN: true });

describe('levels', () => {
  it('add and subtract as energies: what a background adds, its correction takes off', () => {
    fc.assert(
      fc.property(dB, fc.double({ min: -30, max: 20, noNaN: true }), (source, below) => {
        const background = source + below;
        const together = energeticAverage([source, background]) + 10 * Math.log10(2);
        expect(backgroundCorrected(together, background)).toBeCloseTo(source, 6);
      }),
    );
  });
  it('within 3 dB of the floor are bounds, which never exceed what was read', () => {
    fc.assert(
      fc.property(dB, dB, (level, floor) => {
        const said = sourceLevel(level, floor);
        expect(said.bound).toBe(level - floor < 3 ? 'at_most' : 'value');
        if (level >= floor) expect(said.level).toBeLessThanOrEqual(level);
        // a bound holds whatever the source was
        if (level > floor)
          expect(said.level).toBeGreaterThanOrEqual((backgroundCorrected(level, floor) ?? Number.NEGATIVE_INFINITY) - 1e-9);
      }),
    );
    expect(sourceLevel(40, null)).toEqual({ level: 40, bound: 'value' });
  });
  it('fall by 6 dB where the distance doubles', () => {
    expect(atDistance(40, 0.5, 1)).toBeCloseTo(40 - 6.0206, 4);
    expect(atDistance(atDistance(33, 1, 0.6), 0.6, 1)).toBeCloseTo(33, 12);
  });
  it('have nothing to average where none was read', () => expect(() => energeticAverage([])).toThrow('no sound reading'));
});

describe('the level of a fan', () => {
  it('is inverted exactly, and not fitted through one speed or two readings', () => {
    const fit = fitLevel([600, 900, 1200, 1500], [22, 30.1, 36, 40.4]);
    if (!fit) throw new Error('a curve was expected');
    for (const rpm of [600, 1000, 1500]) expect(rpmAtLevel(fit, levelAt(fit, rpm))).toBeCloseTo(rpm, 6);
    expect(fitLevel([900, 900, 900], [30, 30.2, 30.1])).toBeNull();
    expect(fitLevel([900, 1200], [30, 36])).toBeNull();
  });
});
