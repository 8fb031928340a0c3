import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { type DatedMount, driftOverYears } from './drift';

const YEAR_S = 365.25 * 86_400;
const at = (setup: string, year: number, value: number): DatedMount => ({ setup, at_s: year * YEAR_S, value });

/** Mounts of occasions on set-ups, with what a set-up, an occasion and a mount add at random. */
function drawn(seed: number, perYear: number, setups: number, occasions: number): DatedMount[] {
  const random = seededRandom(seed);
  return Array.from({ length: setups }, (_, s) => {
    const level = 6 * random.normal();
    return Array.from({ length: occasions }, (_, k) => {
      const year = s + 0.5 * k;
      const own = level + perYear * year + 1.5 * random.normal();
      return Array.from({ length: 5 }, (_, m) => at(`s${s}`, year + m / 365, own + random.normal()));
    });
  }).flat(2);
}

describe('drift over the years', () => {
  it('is the slope of a line that is one, whatever the levels of the set-ups', () => {
    const told = driftOverYears([...[0, 1, 2].map((y) => at('a', y, 10 + 2 * y)), ...[0, 1].map((y) => at('b', y, 50 + 2 * y))]);
    expect(told).toMatchObject({ occasions: 5, df: 2 });
    expect(told?.per_year).toBeCloseTo(2, 9);
    expect(told?.ci95[1]).toBeCloseTo(2, 6);
  });

  it.each([
    [1, 3],
    [2, 3],
    [3, 4],
  ])('has intervals that hold the truth in 93 to 97 of 100 labs: %i set-ups with %i occasions', (setups, occasions) => {
    let held = 0;
    const labs = 1000;
    for (let seed = 0; seed < labs; seed++) {
      const told = driftOverYears(drawn(seed, 0.7, setups, occasions));
      if (told && told.ci95[0] <= 0.7 && told.ci95[1] >= 0.7) held++;
    }
    expect(held / labs).toBeGreaterThanOrEqual(0.93);
    expect(held / labs).toBeLessThanOrEqual(0.97);
  });

  it('is not told by set-ups that were each measured once, however many mounts', () => {
    expect(driftOverYears(drawn(1, 0, 3, 1))).toBeNull();
    expect(driftOverYears(drawn(1, 0, 1, 2))).toBeNull();
    expect(driftOverYears(drawn(1, 0, 1, 3))?.df).toBe(1);
  });

  it('parts occasions by more than thirty days from the first mount of one, also where nobody pauses', () => {
    const days = (list: number[]) => driftOverYears(list.map((d) => at('a', d / 365.25, d)));
    expect(days([0, 30, 60, 90])).toBeNull();
    expect(days([0, 30, 61, 91, 122])?.occasions).toBe(3);
    expect(days([0, 30, 61, 91, 91])).toBeNull();
    expect(days(Array.from({ length: 26 }, (_, i) => 14 * i))?.occasions).toBe(9);
  });
});
