import { describe, expect, it } from 'vitest';
import { describeResults } from './describeResults';

const none = { score: null, run_time_s: null, frame_rate: null, slow_frame_rate: null, frame_time_ms: null };

describe('results in words', () => {
  it('name what is there, each with its unit', () => {
    expect(describeResults({ ...none, score: 4321 })).toBe('score 4321');
    expect(describeResults({ ...none, score: 4.321, run_time_s: 612.48 })).toBe('score 4.32, run time 612.5 s');
    expect(describeResults({ ...none, frame_rate: 61.54, slow_frame_rate: 44, frame_time_ms: 16.249 })).toBe(
      '61.5 frames/s, slowest hundredth 44.0 frames/s, 16.25 ms per frame',
    );
    expect(describeResults(none)).toBe('');
  });
});
