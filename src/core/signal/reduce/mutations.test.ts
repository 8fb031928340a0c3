import { describe, expect, it } from 'vitest';
import { LogError } from '#core/signal/logs/types';
import { CLEAN_KINDS, cleanLog } from '../../../../tests/cleanLogs';
import { HARMFUL, HARMLESS, type Mutation, mutateLog } from '../../../../tests/mutateLog';
import { reduceLogs } from './reduceLogs';

/** Files of each kind; MUTATIONS=87 makes two thousand of them. */
const EACH = Number(process.env.MUTATIONS ?? 2);
const LONGEST_MS = 20_000;

/** Reads a changed log; what is neither read nor refused in a sentence fails the test. */
function outcome(kind: Mutation, k: number): { valid: boolean; off_k: number } {
  const log = cleanLog(CLEAN_KINDS[k % CLEAN_KINDS.length], 2000 + (k % 13), false);
  const started = performance.now();
  try {
    const { reduction } = reduceLogs([mutateLog(log.files[0], kind, 7000 + k), ...log.files.slice(1)], {}, log.options);
    expect(performance.now() - started).toBeLessThan(LONGEST_MS);
    // a sensor that is out of use leaves a mean of the others, whose truth is theirs
    const truths = reduction.sensors.map((s) => log.true_of[s.name] ?? log.true_rise_k);
    const truth = truths.reduce((sum, v) => sum + v, 0) / truths.length;
    return { valid: reduction.valid, off_k: Math.abs((reduction.rise_k ?? 0) - truth) };
  } catch (error) {
    expect(error, `${kind}, file ${k}`).toBeInstanceOf(LogError);
    return { valid: false, off_k: 0 };
  }
}

describe('changed logs', () => {
  it.each(HARMLESS)('%s: still valid, and right', (kind) => {
    let valid = 0;
    for (let k = 0; k < EACH; k++) {
      const seen = outcome(kind, k);
      if (!seen.valid) continue;
      valid++;
      expect(seen.off_k, `file ${k}`).toBeLessThan(1);
    }
    expect(valid).toBeGreaterThanOrEqual(0.95 * EACH);
  });
  it.each(HARMFUL)('%s: right, waiting for a decision, or not valid', (kind) => {
    for (let k = 0; k < EACH; k++) {
      const seen = outcome(kind, k);
      if (seen.valid) expect(seen.off_k, `file ${k}`).toBeLessThan(1);
    }
  });
});
