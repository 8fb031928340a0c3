import type { InstrumentFault } from '../scpi';

/** Figures that stay as they were while the fault "stuck" is on. */
export function unlessStuck<T>(figures: () => T, faults: ReadonlySet<InstrumentFault>): () => T {
  let kept: { figures: T } | null = null;
  return () => {
    kept = faults.has('stuck') ? (kept ?? { figures: figures() }) : null;
    return kept ? kept.figures : figures();
  };
}
