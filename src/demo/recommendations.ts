import { changeDraft, draftView } from '#features/report/server/draft';
import { storeRecommendations, studyRecommendations } from '#features/results/server/recommend';

const rise = (a: string, b: string) => ({ outcome: 'rise', load: null, a, b });

/** What the workshop recommends from its finished studies, and the words above its reports; once. */
export async function writeRecommendations(eight: number, hut: number): Promise<void> {
  if ((await studyRecommendations(eight)).length > 0) return;
  await storeRecommendations(eight, {
    list: [
      {
        reader: 'For the three huts, before the summer',
        words:
          'Wick 60. It gains what matters over what we have, scatters least of all from mount to mount, and nobody has to mask anything.',
        rests: [rise('Loam White', 'Wick 60')],
      },
      {
        reader: 'For the one card that runs hottest',
        words:
          'Tarn, by someone who has done it before: it conducts, so mask the neighbours. Whether it beats Wick 60 by enough is not settled.',
        rests: [rise('Loam White', 'Tarn'), rise('Wick 60', 'Tarn')],
      },
      {
        reader: 'Where paste is at hand already',
        words: 'Stay with Loam White. Alder Grey is the same within a kelvin; not worth a tube.',
        rests: [rise('Loam White', 'Alder Grey')],
      },
    ],
  });
  await storeRecommendations(hut, {
    list: [
      {
        reader: 'Who keeps old cards in the huts',
        words: 'Clean and refill them once they are five years old: the card had lost part of its clock for good before anyone noticed.',
        rests: [{ outcome: 'r_k_per_w', load: null, a: 'As found', b: 'Refurbished' }],
      },
    ],
  });
  const { sections, version } = await draftView(eight);
  const words: Record<string, string> = {
    question:
      'The huts have no air-conditioning, and last summer two cards throttled. We tried what we could get, five mounts of each, in random order over ten bench days.',
    held: 'One card, one cooler, one fan at a fixed speed. Only what lies between lid and cooler differs.',
  };
  await changeDraft(eight, { sections: sections.map((s) => ({ ...s, words: words[s.key] ?? s.words })), version });
}
