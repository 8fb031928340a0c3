import { describe, expect, it } from 'vitest';
import type { FanFigures } from '#core/signal/reduce/types';
import { coolerBuild } from './builds';

const fan = (more: Partial<FanFigures> = {}): FanFigures => ({
  min_rpm: 1190,
  max_rpm: 1210,
  surges_per_min: 0,
  cycle_s: null,
  spin_up_s: null,
  ...more,
});
const heron = {
  specimen: 'Heron',
  position: 0,
  photographs: [],
  fans: [fan()],
  sheet: { height_mm: 158, mass_g: 890, price: 52, currency: 'EUR' },
};
const bay = { name: 'the hut bay', height_mm: 150, mass_g: null };

describe('a cooler beside others', () => {
  it('does not fit where it is too high or too heavy', () => {
    const high = coolerBuild(heron, bay);
    expect(high.fits).toBe('no');
    expect(high.sentences).toEqual(['Heron does not fit the hut bay: it is 158 mm high, 8 mm more than the 150 mm there are.']);
    expect(coolerBuild(heron, { ...bay, name: 'hut bay' }).sentences).toEqual(high.sentences);
    expect(coolerBuild(heron, { ...bay, height_mm: 160, mass_g: 600 }).sentences[0]).toContain('890 g heavy, 290 g more');
    expect(coolerBuild(heron, { ...bay, height_mm: 158 }).fits).toBe('yes');
    expect(coolerBuild(heron, null).fits).toBe('not asked');
    expect(coolerBuild({ ...heron, sheet: null }, bay).fits).toBe('not known');
  });
  it('is taken as measured, and told where its maker states otherwise', () => {
    const measured = coolerBuild(
      { ...heron, sheet: { ...heron.sheet, measured_height_mm: 163, measured_mass_g: 895 } },
      { ...bay, height_mm: 160 },
    );
    expect(measured.height_mm).toBe(163);
    expect(measured.fits).toBe('no');
    expect(measured.sentences[1]).toBe('Heron is 163 mm high as measured, 5 mm more than its maker states.');
    // five grams of 890 are within what scales and screws make
    expect(measured.sentences).toHaveLength(2);
    expect(measured.price).toBe('52.00 EUR');
  });
  it('is told to surge or to start late where its fan does', () => {
    const fans = [fan(), fan({ surges_per_min: 2.4, cycle_s: 25 }), fan({ surges_per_min: 1 }), fan({ spin_up_s: 41 })];
    expect(coolerBuild({ ...heron, fans }, null).sentences).toEqual([
      'The fan of Heron surges up to 2.4 times a minute, again and again every 25 s (2 of 4 runs): its mean level hides what is heard.',
      'The fan of Heron starts up to 41 s after the load (1 of 4 runs): the part is hotter until then.',
    ]);
  });
});
