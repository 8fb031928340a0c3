import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { fitBondLine } from './bondLine';

const AREA = 1369;
const readings = (k: number, contact: number, thicknesses: number[], noise: () => number = () => 0) =>
  thicknesses.map((thickness_mm) => ({ thickness_mm, k_per_w: ((1000 * thickness_mm) / k + contact) / AREA + noise() }));

describe('conductivity from several thicknesses', () => {
  it('is the slope, and what is left at none the contacts', () => {
    const fit = fitBondLine(readings(4, 12, [0.05, 0.1, 0.2, 0.4]), AREA, 0.95);
    expect(fit?.k).toBeCloseTo(4, 9);
    expect(fit?.contact).toBeCloseTo(12, 9);
    expect(fit?.df).toBe(2);
  });
  it('has intervals that hold in 95 of 100 simulated series, for both', () => {
    const random = seededRandom(8);
    let [k, contact] = [0, 0];
    for (let i = 0; i < 1000; i++) {
      const fit = fitBondLine(
        readings(4, 12, [0.05, 0.1, 0.1, 0.2, 0.2, 0.4], () => 0.004 * random.normal()),
        AREA,
        0.95,
      );
      if (!fit) continue;
      if (fit.k_ci[0] <= 4 && (fit.k_ci[1] === null || fit.k_ci[1] >= 4)) k++;
      if (fit.contact_ci[0] <= 12 && fit.contact_ci[1] >= 12) contact++;
    }
    for (const held of [k, contact]) {
      expect(held).toBeGreaterThanOrEqual(930);
      expect(held).toBeLessThanOrEqual(970);
    }
  });
  it('has no upper bound where the slope may be nought, and is not told where nothing grows', () => {
    const scattered = [1, -1, 1, -1].map((sign, i) => ({ thickness_mm: 0.1 * (i + 1), k_per_w: 0.1 + 0.001 * i + 0.02 * sign }));
    expect(fitBondLine([...scattered, { thickness_mm: 0.5, k_per_w: 0.12 }], AREA, 0.95)?.k_ci[1] ?? null).toBeNull();
    expect(fitBondLine(readings(-4, 100, [0.1, 0.2, 0.3]), AREA, 0.95)).toBeNull();
    expect(fitBondLine(readings(4, 12, [0.1, 0.1, 0.1]), AREA, 0.95)).toBeNull();
    expect(fitBondLine(readings(4, 12, [0.1, 0.2]), AREA, 0.95)).toBeNull();
  });
});
