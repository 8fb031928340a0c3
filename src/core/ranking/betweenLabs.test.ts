import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { betweenLabs, type LabLead } from './betweenLabs';

const lab = (name: string, lead: number, over: Partial<LabLead> = {}): LabLead => ({
  lab: name,
  lead,
  se: 1,
  mounts: 5,
  squares: 4,
  df: 4,
  ...over,
});

describe('between labs', () => {
  it('has the repeatability of all mounts together, and adds what lies between labs', () => {
    // equal standard errors: the variance between is that of the leads less the error, 8 − 1
    const told = betweenLabs([lab('A', 10), lab('B', 14)]);
    expect(told.repeatability_sd).toBeCloseTo(1, 12);
    expect(told.lab_sd).toBeCloseTo(Math.sqrt(7), 6);
    expect(told.reproducibility_sd).toBeCloseTo(Math.sqrt(8), 6);
    expect(betweenLabs([lab('A', 10), lab('B', 10.5)]).lab_sd).toBe(0);
    expect(() => betweenLabs([lab('A', 10)])).toThrow('Two labs');
  });

  it('solves the equation of Paule and Mandel where standard errors differ', () => {
    const leads = [lab('A', 10, { se: 0.5 }), lab('B', 14, { se: 1 }), lab('C', 11, { se: 2 })];
    const between = betweenLabs(leads).lab_sd ** 2;
    const weights = leads.map((l) => 1 / (l.se ** 2 + between));
    const mean = leads.reduce((sum, l, i) => sum + weights[i] * l.lead, 0) / weights.reduce((a, b) => a + b, 0);
    expect(leads.reduce((sum, l, i) => sum + weights[i] * (l.lead - mean) ** 2, 0)).toBeCloseTo(2, 6);
  });

  it('shows which lab stands out by its level and which by its scatter: 5 %, as the standard’s table has it', () => {
    // ISO 5725-2: h for 5 labs at 5 % is 1.57, k for 5 labs of 5 mounts 1.53 by the table's one in twenty
    const odd = betweenLabs([lab('A', 10), lab('B', 10.1), lab('C', 9.9), lab('D', 10), lab('E', 20)]);
    expect(odd.labs.filter((l) => l.h_stands_out).map((l) => l.lab)).toEqual(['E']);
    const near = (h: number) => {
      const x = h;
      // four labs even around 0 and one at x: its h is read back
      return betweenLabs([lab('A', 1), lab('B', -1), lab('C', 1), lab('D', -1), lab('E', x)]).labs[4];
    };
    const [below, above] = [near(4), near(4.2)];
    expect(below.h as number).toBeLessThan(1.57);
    expect(below.h_stands_out).toBe(false);
    expect(above.h as number).toBeGreaterThan(1.57);
    expect(above.h_stands_out).toBe(true);
    const noisy = betweenLabs([lab('A', 10), lab('B', 10), lab('C', 10, { squares: 40 })]);
    expect(noisy.labs.map((l) => l.k_stands_out)).toEqual([false, false, true]);
  });

  it('finds labs apart in at most one of twenty where they agree', () => {
    const random = seededRandom(5);
    let found = 0;
    for (let i = 0; i < 400; i++) {
      const drawn = (name: string): LabLead => {
        const values = Array.from({ length: 5 }, () => random.normal());
        const mean = values.reduce((a, b) => a + b, 0) / 5;
        const squares = values.reduce((sum, v) => sum + (v - mean) ** 2, 0);
        return lab(name, mean, { squares, se: Math.sqrt(squares / 4 / 5) });
      };
      if (betweenLabs([drawn('A'), drawn('B'), drawn('C')]).p < 0.05) found++;
    }
    expect(found).toBeLessThanOrEqual(30);
    expect(betweenLabs([lab('A', 0), lab('B', 9)]).p).toBeLessThan(0.01);
  });
});
