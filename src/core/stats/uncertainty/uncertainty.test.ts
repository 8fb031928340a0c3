import { describe, expect, it } from 'vitest';
import { expectWithin, vectors } from '../../../../tests/vectors.ts';
import { type Correlation, combineUncertainty, type UncertaintySource } from './combine';
import { absoluteBudget, differenceBudget, type RiseInstrument } from './riseBudget';

interface Input {
  components: UncertaintySource[];
  correlations: Correlation[];
  confidence: number;
}

describe('uncertainty against values from other software', () => {
  const file = vectors<Input, Record<string, unknown>>('uncertainty');
  it.each(file.cases)('$name', ({ input, expected }) => {
    const { components, combined, effective_df, coverage_factor, expanded } = expected;
    expectWithin(
      combineUncertainty(input.components, input.correlations, input.confidence),
      { components, combined, effective_df, coverage_factor, expanded },
      file.tolerance,
    );
  });
});

describe('the budget of a rise', () => {
  const instruments: RiseInstrument[] = [
    { name: 'Die sensors', reads: 'sensor', accuracy_k: 1.5, resolution_k: 0.1 },
    { name: 'Room probe', reads: 'ambient', accuracy_k: 0.3, resolution_k: 0.01 },
    { name: 'Untold', reads: 'ambient', accuracy_k: null, resolution_k: null },
  ];
  it('holds what the instruments may be off by in an absolute value', () => {
    const budget = absoluteBudget({ se: 0.2, df: 4 }, instruments, 0.95);
    expect(budget.components).toHaveLength(5);
    expect(budget.combined).toBeCloseTo(Math.sqrt(0.2 ** 2 + (1.5 ** 2 + 0.3 ** 2) / 3 + (0.05 ** 2 + 0.005 ** 2) / 3), 10);
  });
  it('leaves the scatter alone in a difference on one rig, and both offsets across two', () => {
    expect(differenceBudget({ se: 0.3, df: 8 }, instruments, true, 0.95).combined).toBeCloseTo(0.3, 12);
    expect(differenceBudget({ se: 0.3, df: 8 }, instruments, false, 0.95).combined).toBeGreaterThan(1.2);
  });
});
