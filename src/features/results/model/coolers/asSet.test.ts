import { describe, expect, it } from 'vitest';
import { runFact, studyFacts } from '../../../../../tests/studyFacts';
import { compareStudy, studyChoice } from '../choice';
import type { RunFact } from '../facts';
import { biasWords } from '../fanBias';
import { coolersAsSet } from './asSet';

const SOUND = { floor_db: 20, distance_m: 1, at_m: 1, target_db: 32, weighting: 'A' as const };
const mounts = (specimen: string, rise: number, noise: number): RunFact[] =>
  [-0.2, 0, 0.2].map((d, m) => ({
    ...runFact(specimen, m + 1, rise + d, { mount_id: 10 * specimen.length + m }),
    values: { rise: rise + d, noise, fan_speed: 1000 },
  }));
const set = (noise: number, rise = 38) => {
  const facts = studyFacts([...mounts('Heron', 40, 32.3), ...mounts('Weir 240', rise, noise)], { reference: 'Heron', sound: SOUND });
  return coolersAsSet(facts, compareStudy(facts, studyChoice(facts)));
};

describe('coolers that were each set to one speed', () => {
  it('are compared as they were set where their noise is alike, to the margin and not beyond', () => {
    expect(set(33.2)).toMatchObject({
      alike: true,
      biases: [],
      words: expect.stringMatching(/^As they were set, at 32\.0 to 33\.0 dB\(A\)$/),
    });
    expect(set(33.4)).toMatchObject({ alike: false, words: expect.stringMatching(/^Not at equal noise: 32\.0 to 33\.2 dB\(A\)$/) });
  });
  it('say which way the difference is biased where it is not', () => {
    expect(set(36)?.biases).toEqual([
      'Weir 240 was 3.9 dB(A) louder than Heron: the gain is at most this: with as much air as the other it would be smaller.',
    ]);
    expect(set(29)?.biases[0]).toMatch(/quieter than Heron: the gain is at least this/);
    expect(set(36, 42)?.biases[0]).toMatch(/louder than Heron: the loss is at least this/);
    expect(biasWords(-1, false)).toMatch(/^the loss is at most this/);
  });
  it('are not told at equal noise too close to the background noise', () => {
    expect(set(22)).toMatchObject({ alike: false, words: expect.stringMatching(/Weir 240 too close to the background noise/) });
  });
});
