import { describe, expect, it } from 'vitest';
import { bytesWords } from '#core/text/bytesWords';
import { roomOf, roomWarning } from './storeRoom';

describe('the room for the store', () => {
  it('is low just below what the busiest day takes, and not at it', () => {
    const day = 3 * 400e6;
    expect(roomOf(day, 400e6).is_low).toBe(false);
    expect(roomOf(day - 1, 400e6).is_low).toBe(true);
    // a lab that stored nothing yet is told at 500 MB
    expect(roomOf(500e6, 0).is_low).toBe(false);
    expect(roomOf(500e6 - 1, 1000).is_low).toBe(true);
  });

  it('is warned of in words, or not at all', () => {
    expect(roomWarning(null)).toBeNull();
    expect(roomWarning(roomOf(80e9, 0))).toBeNull();
    expect(roomWarning(roomOf(1.1e9, 400e6))).toContain('has 1.1 GB left, and a busy day takes about 1.2 GB');
    expect([bytesWords(999_400_000), bytesWords(12.6e9), bytesWords(30_001), bytesWords(0)]).toEqual(['999 MB', '13 GB', '31 kB', '0 kB']);
  });
});
