import { describe, expect, it } from 'vitest';
import { CLEAN_KINDS, cleanLog } from '../../../../tests/cleanLogs';
import { reduceLogs } from './reduceLogs';

describe('no crying wolf', () => {
  it.each(CLEAN_KINDS)('twelve clean logs: %s', (kind) => {
    let waiting = 0;
    for (let seed = 1000; seed < 1012; seed++) {
      const log = cleanLog(kind, seed);
      const { reduction } = reduceLogs(log.files, {}, log.options);
      expect(
        reduction.findings.filter((f) => f.severity === 'reject').map((f) => f.code),
        `seed ${seed}`,
      ).toEqual([]);
      expect(Math.abs((reduction.rise_k as number) - log.true_rise_k), `seed ${seed}`).toBeLessThan(1);
      waiting += reduction.decision.length > 0 ? 1 : 0;
    }
    // 1 % of three hundred
    expect(waiting).toBe(0);
  });
});
