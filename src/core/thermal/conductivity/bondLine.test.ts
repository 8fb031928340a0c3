import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { fitBondLine } from './bondLine';

const AREA = 1369;
const EXACT = { confidence: 0.95, thickness_u_mm: 0 };
const readings = (k: number, contact: number, thicknesses: number[]) =>
  thicknesses.map((thickness_mm) => ({ thickness_mm, k_per_w: ((1000 * thickness_mm) / k + contact) / AREA }));

describe('conductivity from several thicknesses', () => {
  it('is the slope, and what is left at none the contacts; a line without scatter has no interval', () => {
    const fit = fitBondLine(readings(4, 12, [0.05, 0.1, 0.2, 0.4]), AREA, EXACT);
    expect(fit).toMatchObject({ ok: true, shims: 4, k_ci: null, contact_ci: null, without_interval: 'exact' });
    if (!fit.ok) return;
    expect(fit.k).toBeCloseTo(4, 9);
    expect(fit.contact).toBeCloseTo(12, 9);
  });

  // scatter of each shim, the same or growing with R; scatter of three repeats on it; error of the thickness
  it.each([
    ['even scatter', { even: 4, share: 0, repeats: 1, repeat: 0, u: 0 }],
    ['scatter that grows with R', { even: 0, share: 0.08, repeats: 1, repeat: 0, u: 0 }],
    ['three repeats on each shim', { even: 4, share: 0, repeats: 3, repeat: 1, u: 0 }],
    ['thicknesses known to 0.02 mm', { even: 2, share: 0, repeats: 1, repeat: 0, u: 0.02 }],
  ])('has intervals that hold in 93 to 99 of 100 simulated series: %s', (_, { even, share, repeats, repeat, u }) => {
    const random = seededRandom(8);
    let [k, contact, told] = [0, 0, 0];
    for (let i = 0; i < 1000; i++) {
      const series = [0.1, 0.15, 0.2, 0.3, 0.4].flatMap((t) => {
        const rest = 1000 * ((t + u * random.normal()) / 4) + 12;
        const shim = rest * (1 + share * random.normal()) + even * random.normal();
        return Array.from({ length: repeats }, () => ({ thickness_mm: t, k_per_w: (shim + repeat * random.normal()) / AREA }));
      });
      const fit = fitBondLine(series, AREA, { confidence: 0.95, thickness_u_mm: u });
      if (!fit.ok || !fit.k_ci || !fit.contact_ci) continue;
      told++;
      if (fit.k_ci[0] <= 4 && (fit.k_ci[1] === null || fit.k_ci[1] >= 4)) k++;
      if (fit.contact_ci[0] <= 12 && fit.contact_ci[1] >= 12) contact++;
    }
    expect(told).toBeGreaterThan(980);
    for (const held of [k / told, contact / told]) {
      expect(held).toBeGreaterThanOrEqual(0.93);
      expect(held).toBeLessThanOrEqual(0.99);
    }
  });

  it('has no upper bound where the slope may be nought, and is not told where nothing grows', () => {
    const scattered = [1, -1, 1, -1].map((sign, i) => ({ thickness_mm: 0.1 * (i + 1), k_per_w: 0.1 + 0.001 * i + 0.02 * sign }));
    const steep = fitBondLine([...scattered, { thickness_mm: 0.5, k_per_w: 0.14 }], AREA, EXACT);
    expect(steep).toMatchObject({ ok: true, k_ci: [expect.any(Number), null] });
    expect(fitBondLine(readings(-4, 100, [0.1, 0.2, 0.3]), AREA, EXACT)).toEqual({ ok: false, why: 'not_growing' });
    expect(fitBondLine(readings(4, 12, [0.1, 0.1, 0.1]), AREA, EXACT)).toEqual({ ok: false, why: 'one_thickness' });
    expect(fitBondLine(readings(4, 12, [0.1, 0.2]), AREA, EXACT)).toEqual({ ok: false, why: 'few_readings' });
  });

  it('refuses a contact that lies below nought with its interval, and not one that may be nought', () => {
    const near = (contact: number) =>
      readings(4, contact, [0.1, 0.2, 0.3, 0.4]).map((r, i) => ({ ...r, k_per_w: r.k_per_w + [1, -1, 1, -1][i] * 5e-4 }));
    expect(fitBondLine(near(-12.3), AREA, EXACT)).toMatchObject({ ok: false, why: 'negative_contact' });
    expect(fitBondLine(near(-0.5), AREA, EXACT)).toMatchObject({ ok: true });
    // on an exact line it is known
    expect(fitBondLine(readings(4, -12.3, [0.1, 0.2, 0.4]), AREA, EXACT)).toMatchObject({ ok: false, why: 'negative_contact' });
    expect(fitBondLine(readings(4, 0, [0.1, 0.2, 0.4]), AREA, EXACT)).toMatchObject({ ok: true });
  });

  it('gives two shims no interval, however often they are read', () => {
    const twice = [...readings(4, 12, [0.1, 0.2]), ...readings(4, 13, [0.1, 0.2]), ...readings(4, 12.4, [0.1, 0.2])];
    expect(fitBondLine(twice, AREA, EXACT)).toMatchObject({ ok: true, shims: 2, k_ci: null, without_interval: 'two_shims' });
  });
});
