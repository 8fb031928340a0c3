import { IMPRINT_KINDS, type ImprintKind } from '../../../tests/imprintKinds.ts';
import { measuredJpeg } from '../../../tests/jpegImprint';
import { type Case, type Claim, NOTHING, said } from './types';

const subject = 'print' as const;
const PRINTS = 25;

/** Measures the photographs of one kind once for both claims. */
const read = new Map<string, ReturnType<typeof measuredJpeg>>();
const reading = (kind: ImprintKind, seed: number) => {
  const key = `${kind} ${seed}`;
  const known = read.get(key) ?? measuredJpeg(kind, seed);
  read.set(key, known);
  return known;
};

/** Held where the cover is within 5 points, or told as unsure. */
async function told(kind: ImprintKind, seed: number): Promise<Case> {
  const { print, truth } = await reading(kind, seed);
  return print ? said(print.unsure.length > 0 || Math.abs(print.cover - truth.cover) < 0.05) : NOTHING;
}

/** Declined where the cover is told as unsure: a range, and no figure. */
async function ranged(kind: ImprintKind, seed: number): Promise<Case> {
  const { print, truth } = await reading(kind, seed);
  if (!print) return NOTHING;
  return { ...said(print.cover_range[0] <= truth.cover && truth.cover <= print.cover_range[1]), declined: print.unsure.length > 0 };
}

export const PRINT: Claim[] = (Object.keys(IMPRINT_KINDS) as ImprintKind[]).flatMap((kind): Claim[] => {
  const given = { subject, condition: IMPRINT_KINDS[kind], cases: PRINTS };
  // seeds of their own for each claim would photograph twice
  const seedOf = (seed: number) => 3000 + (seed % 10_000);
  return [
    {
      ...given,
      claim: 'cover within 5 points, or told as unsure',
      promised: [99, 100],
      clean: kind === 'ordinary',
      run: (seed) => told(kind, seedOf(seed)),
    },
    { ...given, claim: 'range of the cover; declined: told as unsure', promised: [90, 100], run: (seed) => ranged(kind, seedOf(seed)) },
  ];
});
