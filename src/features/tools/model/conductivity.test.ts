import { describe, expect, it } from 'vitest';
import { fitBondLine } from '#core/thermal/conductivity/bondLine';
import { bondLineSentence, readShims } from './conductivity';

describe('readings of several thicknesses', () => {
  it('are read from lines however they are parted', () => {
    const wanted = [
      { thickness_mm: 0.1, k_per_w: 0.03 },
      { thickness_mm: 0.2, k_per_w: 0.05 },
    ];
    for (const text of [
      '0.1 0.03\n0.2 0.05',
      '0.1, 0.03\n\n0.2, 0.05',
      '0,1;0,03\n0,2;0,05',
      '0.1\t0.03\n0.2\t0.05\n',
      '0.1,0.03\n0.2,0.05',
    ])
      expect(readShims(text)).toEqual({ readings: wanted, problem: null });
    expect(readShims('0.1 0.03\n0.2').problem).toMatch(/^Line 2 is not/);
    expect(readShims('-1 0.03').problem).toMatch(/^Line 1/);
    expect(readShims('0.1 0.03\n'.repeat(201)).problem).toContain('Up to 200');
  });
  it('say conductivity and contact with their intervals, or what is missing', () => {
    const say = (list: { thickness_mm: number; k_per_w: number }[]) =>
      bondLineSentence(fitBondLine(list, 1369, { confidence: 0.95, thickness_u_mm: 0 }));
    const { readings } = readShims('0.1 0.0270\n0.2 0.0455\n0.4 0.0815');
    expect(say(readings)).toMatch(
      /^4\.0\d W\/\(m·K\) \(95 % \d\.\d\d to \d\.\d\d\), and 1\d\.\d mm²·K\/W of contact .*, from 3 thicknesses\.$/,
    );
    expect(say(readings.slice(1))).toContain('three readings');
    expect(say([0, 1, 2].map(() => readings[0]))).toContain('one thickness');
    expect(say(readings.map((r) => ({ ...r, k_per_w: 1 - r.k_per_w })))).toContain('does not grow');
    expect(say([...readings.slice(1), readings[2]])).toContain('Two thicknesses give no interval');
    expect(say(readings.map((r) => ({ ...r, k_per_w: r.k_per_w - 0.02 })))).toMatch(
      /^The line meets no thickness at −\d+\.\d to −\d+\.\d mm²·K\/W/,
    );
  });
});
