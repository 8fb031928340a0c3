import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { coolerBuild } from '#features/results/model/coolers/builds';
import { answerCoolers } from '#features/results/model/coolers/coolersAnswer';
import { crossingSentences, type HeldAt } from '#features/results/model/coolers/figures';
import type { RunFact } from '#features/results/model/facts';
import { sweepsOf } from '#features/results/model/sweeps';
import { textOf } from '../../../../../tests/markup.ts';
import { runFact, studyFacts } from '../../../../../tests/studyFacts.ts';
import { BuildTable } from './BuildTable.tsx';
import { CoolersDesk } from './CoolersDesk.tsx';
import { SoundClips } from './SoundClips.tsx';

const SOUND = { floor_db: 24, distance_m: 1, at_m: 1, target_db: 32, weighting: 'A' as const };

function sweep(specimen: string, base: number, loud: number, speeds: number[], mounts = 3): RunFact[] {
  const random = seededRandom(base);
  return Array.from({ length: mounts }, (_, m) =>
    speeds.map((rpm) => {
      const source = loud + 50 * Math.log10(rpm / 1200);
      const noise = 10 * Math.log10(10 ** (source / 10) + 10 ** (SOUND.floor_db / 10));
      const rise = base + 13 * (rpm / 1200) ** -0.7 + 0.1 * random.normal();
      return runFact(specimen, m + 1, rise, { values: { fan_speed: rpm + 2 * m, noise } });
    }),
  ).flat();
}

function shown(runs: RunFact[], by: HeldAt, at: number): string {
  const facts = studyFacts(runs, { sound: SOUND, factors: ['cooler', null] });
  const sweeps = sweepsOf(facts);
  return textOf(CoolersDesk, {
    facts,
    sweeps,
    initial: answerCoolers(facts, sweeps, { by, at }),
    crossings: crossingSentences(sweeps, { sound: SOUND, confidence: 0.95 }),
  });
}

const SPEEDS = [700, 950, 1250, 1600];

describe('coolers over their fan speeds', () => {
  const two = [...sweep('Heron', 28, 33, SPEEDS), ...sweep('Weir 240', 26, 38, SPEEDS)];
  it('are told at the noise they are held to, with fan, level and rise', () => {
    const text = shown(two, 'noise', 32);
    expect(text).toMatch(/^At 32\.0 dB\(A\): /);
    expect(text).toMatch(/Heron 11\d\d 32\.0 41\.\d/);
    expect(text).toContain('Curves are not read by more than 5 % beyond the measured speeds.');
  });
  it('are told to hold a temperature by the noise each needs', () => {
    expect(shown(two, 'rise', 41)).toMatch(/^To hold 41\.0 K: .* dB\(A\)/);
  });
  it('that share no level say what each reaches', () => {
    const text = shown([...sweep('Heron', 28, 25, SPEEDS), ...sweep('Plover', 30, 70, SPEEDS)], 'noise', 50);
    expect(text).toMatch(/Heron does not reach 50\.0 dB\(A\) within its measured speeds/);
  });
  it('whose noise is lost in the room are bounds, and no curve of noise', () => {
    const text = shown([...sweep('Heron', 28, 5, SPEEDS), ...sweep('Plover', 30, 5, SPEEDS)], 'speed', 1200);
    expect(text).toMatch(/^At 1200 rpm: Heron runs/);
    expect(text).toMatch(/Heron 1200 – 4\d\.\d/);
  });
  it('of one mount each still say where they stand', () => {
    expect(shown([...sweep('Heron', 28, 33, SPEEDS, 1), ...sweep('Weir 240', 26, 38, SPEEDS, 1)], 'speed', 1200)).toMatch(/^At 1200 rpm: /);
  });
});

describe('what stands beside the temperature', () => {
  const build = coolerBuild(
    {
      specimen: 'Heron',
      position: 0,
      photographs: [7],
      fans: [],
      sheet: { height_mm: 158, price: 52, currency: 'EUR', sound: 'a low hum' },
    },
    { name: 'the hut bay', height_mm: 150, mass_g: null },
  );
  it('says what does not fit, in words and in the table', () => {
    const text = textOf(BuildTable, { builds: [build], enclosure: 'the hut bay' });
    expect(text).toContain('Heron does not fit the hut bay');
    expect(text).toMatch(/Heron 158 mm – – 52\.00 EUR does not fit a low hum photograph 1/);
  });
  it('leaves out what nobody asked or knows', () => {
    const plain = coolerBuild({ specimen: 'Plover', position: 1, photographs: [], fans: [], sheet: null }, null);
    expect(textOf(BuildTable, { builds: [plain], enclosure: '' })).toBe(
      'Build, fit and price Cooler Height Mass Base flat to Price Plover – – – –',
    );
  });
  it('says what clips are for while there is none, and offers to add one', () => {
    const text = textOf(SoundClips, { specimens: [{ id: 1, name: 'Heron', position: 0 }], initial: [] });
    expect(text).toContain('No clip yet.');
    expect(text).toContain('Add a clip');
  });
  it('lists a clip without a level as such, and one that was taken out', () => {
    const clip = { id: 1, specimen: 'Heron', position: 0, name: 'a.wav', rpm: 1146, level_db: null, note: 'hum', removed_at: null };
    const text = textOf(SoundClips, {
      specimens: [{ id: 1, name: 'Heron', position: 0 }],
      initial: [clip, { ...clip, id: 2, name: 'b.wav', removed_at: new Date() }],
    });
    expect(text).toMatch(/Play Heron 1146 rpm no level read hum Take out/);
    expect(text).toContain('Taken out: Heron, b.wav. Put back');
  });
});
