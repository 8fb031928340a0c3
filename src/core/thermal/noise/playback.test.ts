import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { playbackGains, strength } from './playback';

const clip = fc.record({
  rms: fc.double({ min: 0.001, max: 0.5, noNaN: true }),
  crest: fc.double({ min: 1, max: 12, noNaN: true }),
  level_db: fc.double({ min: 20, max: 60, noNaN: true }),
});
const made = fc
  .array(clip, { minLength: 2, maxLength: 8 })
  .map((list) => list.map(({ rms, crest, level_db }) => ({ rms, peak: Math.min(1, rms * crest), level_db })));

describe('clips that are played beside each other', () => {
  it('are as strong as each other where they are matched, and none is cut', () => {
    fc.assert(
      fc.property(made, (list) => {
        const gains = playbackGains(list, 'matched') as number[];
        const strengths = list.map((r, i) => r.rms * gains[i]);
        for (const s of strengths) expect(s / strengths[0]).toBeCloseTo(1, 9);
        list.forEach((r, i) => {
          expect(r.peak * gains[i]).toBeLessThanOrEqual(0.95 + 1e-12);
        });
      }),
    );
  });
  it('differ as their levels do where they are played as measured', () => {
    fc.assert(
      fc.property(made, (list) => {
        const gains = playbackGains(list, 'measured') as number[];
        list.forEach((r, i) => {
          const apart = 20 * Math.log10((r.rms * gains[i]) / (list[0].rms * gains[0]));
          expect(apart).toBeCloseTo(r.level_db - list[0].level_db, 6);
        });
      }),
    );
  });
  it('are left out where they are silent or have no level', () => {
    const list = [
      { rms: 0, peak: 0, level_db: 30 },
      { rms: 0.1, peak: 0.3, level_db: null },
      { rms: 0.1, peak: 0.3, level_db: 40 },
    ];
    expect(playbackGains(list, 'matched')[0]).toBeNull();
    expect(playbackGains(list, 'measured').map((g) => g === null)).toEqual([true, true, false]);
  });
  it('are measured over all their channels', () => {
    expect(strength([Float32Array.of(1, -1), Float32Array.of(0, 0)])).toEqual({ rms: Math.SQRT1_2, peak: 1 });
    expect(strength([])).toEqual({ rms: 0, peak: 0 });
  });
});
