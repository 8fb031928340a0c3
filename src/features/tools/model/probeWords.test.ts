import { describe, expect, it } from 'vitest';
import type { ProbeError } from '#core/signal/probes/compareProbes';
import { changes, comparisonNotes, comparisonSentence, errorWords, gainWords, sheetChange } from './probeWords';

const probe = (more: Partial<ProbeError> = {}): ProbeError => ({
  ...{ name: 'Part', error_k: 0.314, at_c: 24.9, reach_k: 0.052, gain: null, gain_reach: null, resolution_k: 0.01, stretches: 3 },
  ...more,
});
const comparison = (more: Partial<ProbeError> = {}) => ({ probes: [probe(more)], temperatures_c: [24.8, 25, 24.9], drift_k_per_min: 0.02 });

describe('the words of a comparison of probes', () => {
  it.each([
    [{}, '0.314 ± 0.052 K too high'],
    [{ error_k: -0.314 }, '0.314 ± 0.052 K too low'],
    [{ error_k: 0.05 }, 'no error seen (0.050 ± 0.052 K)'],
    [{ error_k: 2.4, reach_k: 0.6 }, '2.40 ± 0.60 K too high'],
  ])('%j: %s', (more, words) => expect(errorWords(probe(more))).toBe(words));

  it('say what was found, how sure that is, and against what', () => {
    expect(comparisonSentence(comparison(), 'Room')).toEqual({
      claim: 'Part reads 0.314 ± 0.052 K too high',
      basis: '(95 %, against Room, 3 stretches at 25 °C)',
    });
    expect(comparisonSentence(comparison({ error_k: 0.01 }), 'Room').claim).toBe('No probe differs from Room by more than can be chance');
    expect(comparisonSentence({ ...comparison(), temperatures_c: [22, 60] }, 'Room').basis).toContain('between 22 and 60 °C');
  });

  it('tell what makes it doubtful', () => {
    expect(comparisonNotes(comparison())).toEqual([]);
    expect(comparisonNotes({ ...comparison(), drift_k_per_min: 0.21 })[0]).toContain('up to 0.2 K/min');
    expect(comparisonNotes({ ...comparison(), drift_k_per_min: 0.19 })).toEqual([]);
    expect(comparisonNotes(comparison({ stretches: 1 }))[0]).toContain('One stretch does not tell');
    expect(comparisonNotes(comparison({ gain: 0.004, gain_reach: 0.003 }))[0]).toContain('only near the temperature');
  });

  it('a change with temperature that may be chance is none', () => {
    expect(changes(probe({ gain: 0.004, gain_reach: 0.0041 }))).toBe(false);
    expect(changes(probe({ gain: -0.004, gain_reach: 0.0039 }))).toBe(true);
    expect([gainWords(probe()), gainWords(probe({ gain: 0.004, gain_reach: 0.001 }))]).toEqual(['–', '0.040 ± 0.010 K']);
  });

  it('what is written takes the error off, and carries what the reference may be off by', () => {
    expect(sheetChange(probe(), null, '2026-12-01')).toEqual({ offset: -0.314, calibrated_on: '2026-12-01' });
    expect(sheetChange(probe(), 0.1, '2026-12-01').accuracy).toBeCloseTo(Math.hypot(0.1, 0.052), 3);
  });
});
