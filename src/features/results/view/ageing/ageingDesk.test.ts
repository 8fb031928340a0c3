import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { answerAgeing } from '#features/results/model/ageing/ageingAnswer';
import type { RunFact } from '#features/results/model/facts';
import { textOf } from '../../../../../tests/markup.ts';
import { runFact, studyFacts } from '../../../../../tests/studyFacts.ts';
import { AgeingDesk } from './AgeingDesk.tsx';

const DAY = 86_400;
const START = 1_780_000_000;

function followed(specimen: string, slope: number, ages: number[], mounts = 4): RunFact[] {
  const random = seededRandom(9);
  return Array.from({ length: mounts }, (_, m) =>
    ages.map((age, i) => ({
      ...runFact(specimen, m + 1, 40 + 0.2 * random.normal() + slope * age, { at_s: START + m * 3000 + age * DAY }),
      run: i + 1,
    })),
  ).flat();
}

function shown(runs: RunFact[], ages: number[] = []): string {
  const answer = answerAgeing(studyFacts(runs, { ages }));
  if (!answer) throw new Error('the study has ages');
  const openings = [
    {
      id: 1,
      mount_id: 3,
      specimen: 'Bramble 5',
      mount: 4,
      found: ['pumped_out' as const, 'dry' as const],
      note: 'thin in the middle',
      photographs: [8],
    },
  ];
  return textOf(AgeingDesk, { answer, openings, study: { id: 1, title: 'Sixty days', margin_k: 1 } });
}

describe('what time does', () => {
  const ages = [0, 7, 14, 30, 60];
  it('is told with what is lost a month, and what was found on opening', () => {
    const text = shown([...followed('Bramble 5', 2 / 60, ages), ...followed('Wick 60', 0, ages)]);
    expect(text).toMatch(/^Bramble 5 runs [12]\.\d K warmer after 60 days/);
    expect(text).toMatch(/Wick 60 .*(within|less than|no change|changes)/i);
    expect(text).toContain('Bramble 5, mount 4 : pumped out and dry , thin in the middle photograph 1');
  });
  it('lists what is to be measured next', () => {
    expect(shown(followed('Bramble 5', 2 / 60, [0, 7, 30]), [0, 7, 30, 60])).toMatch(
      /To be measured next Mount Age \/ d Due Bramble 5, mount 1 60 20\d\d-\d\d-\d\d/,
    );
  });
  it('says of two points what they can and cannot tell', () => {
    expect(shown(followed('Bramble 5', 2 / 60, [0, 60]))).toMatch(/Bramble 5/);
  });
  it('says of one mount that it holds for that mount alone', () => {
    expect(shown(followed('Bramble 5', 2 / 60, ages, 1))).toMatch(/mount/);
  });
});
