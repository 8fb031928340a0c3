import { CALIBRATION } from './calibration';
import type { Finding, ScatterChoice, ScatterSchool } from './types';

/** From this p on the test for equal scatter gives no reason to doubt it. */
const CLEARLY_UNEQUAL = 0.01;
/** So many specimens, on fewer mounts than this, are too many for each its own scatter. */
const MANY = 6;
const ENOUGH = 8;

/** Up to so many mounts a school on each specimen's own scatter needs strict limits. */
const STRICT_BELOW = 10;
/** Fewer mounts than this tell no scatter of their own. */
const OWN_SCATTER = 4;

/** What the choice of a school goes by. */
interface Design {
  blocked: boolean;
  family: 'all' | 'reference';
  /** are the specimens of one kind, so that alike scatter may be expected? */
  one_kind: boolean;
  specimens: number;
  /** mounts of the specimen with the fewest */
  fewest: number;
}

/**
 * The school a comparison follows. `auto` goes by the number of mounts alone: one scatter under four, else each its own. `measured` departs
 * from it where simulated studies showed that school to call in error in more than 5 % (docs/calibration.md): Games–Howell among three
 * specimens or more on fewer than ten mounts, and one scatter for kinds that scatter unequally.
 */
export function chooseSchool(choice: ScatterChoice, { blocked, family, one_kind, specimens, fewest }: Design): ScatterSchool {
  if (choice !== 'auto' && choice !== 'measured') return choice;
  if (blocked) return 'pooled';
  const byMounts = fewest < OWN_SCATTER ? 'pooled' : 'separate';
  if (choice === 'auto' || fewest < 2) return byMounts;
  const isFamilyOfPairs = family === 'all' && specimens > 2;
  if (byMounts === 'separate') return isFamilyOfPairs && fewest < STRICT_BELOW ? 'strict' : 'separate';
  if (one_kind) return 'pooled';
  return isFamilyOfPairs ? 'strict' : 'separate';
}

/** What mounts that are added after a look cost, with the rate that was measured. */
export function unplannedLook(mounts: number): Finding {
  const { nominal, until_settled } = CALIBRATION.added_mounts;
  return {
    code: 'unplanned_look',
    severity: 'warn',
    message: `A verdict was shown at ${mounts} mounts, and more were added outside the planned analyses. Adding mounts until something shows raises the share of studies with a false call from ${percent(nominal)} to ${percent(until_settled)} (measured, docs/calibration.md); plan interim analyses beforehand to keep it.`,
    numbers: { mounts, nominal, until_settled },
  };
}

/** Where a school is known to miss its error rate, the product says so with the measured figure. */
export function schoolLimits(study: { school: ScatterSchool; counts: number[]; brown_forsythe_p: number | null }): Finding[] {
  const { school, counts, brown_forsythe_p: p } = study;
  if (counts.length < 2) return [];
  if (school === 'pooled' && p !== null && p < CLEARLY_UNEQUAL) {
    return [
      limit(
        'unequal_scatter',
        `The specimens scatter unequally (Brown–Forsythe p = ${p.toFixed(4)}), which one pooled scatter leaves out`,
        CALIBRATION.pooled_unequal,
      ),
    ];
  }
  const fewest = Math.min(...counts);
  if (school === 'separate' && counts.length >= MANY && fewest > 1 && fewest < ENOUGH) {
    return [
      limit(
        'many_for_separate',
        `With ${counts.length} specimens and as few as ${fewest} mounts, the separate scatters are too uncertain for so many pairs`,
        CALIBRATION.separate_many,
      ),
    ];
  }
  return [];
}

const limit = (code: string, why: string, rate: { all: number; firm: number }): Finding => ({
  code,
  severity: 'note',
  message: `${why}: in studies like that ${percent(rate.all)} had a false call where 5 % are allowed, and ${percent(rate.firm)} a firm one (measured, docs/calibration.md). Firm verdicts hold.`,
  numbers: { false_calls: rate.all, firm_false_calls: rate.firm },
});

const percent = (share: number): string => `${Number((100 * share).toFixed(1))} %`;

/** What is measured of a school, for the place where it is chosen. */
export function schoolNote(school: ScatterSchool | 'auto'): string {
  const { pooled_equal, pooled_unequal, separate_ten, separate_five, separate_many, strict_most, default_most, firm_most } = CALIBRATION;
  const firm = `Firm verdicts, on which all methods agree, were false in at most ${percent(firm_most)} of studies.`;
  switch (school) {
    case 'pooled':
      return `Exact where all scatter equally: ${percent(pooled_equal.all)} of studies had a false call; ${percent(pooled_unequal.all)} where it was not. ${firm}`;
    case 'separate':
      return `For scatter that differs, from ten mounts on: ${percent(separate_ten.all)} of studies had a false call; ${percent(separate_five.all)} on five mounts, ${percent(separate_many.all)} with eight specimens. ${firm}`;
    case 'strict':
      return `Each its own with wider limits: ${percent(strict_most)} of studies had a false call at most, also with many specimens, few mounts and unequal scatter. ${firm}`;
    case 'auto':
      return `Method chosen because its false-alarm rate stayed near 5 % for this design (simulated): ${percent(default_most)} of studies had a false call at most. ${firm}`;
  }
}
