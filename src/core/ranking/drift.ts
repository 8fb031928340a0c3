import { tQuantile } from '#core/stats/distributions/t';
import { mean } from '#core/stats/moments';
import { grouped } from './mountRows';

const DAY_S = 86_400;
const YEAR_S = 365.25 * DAY_S;
/** Mounts of one set-up within so many days of the first of them are one occasion: a lab that never pauses has one a month. */
const OCCASION_DAYS = 30;

/** A mount at a moment, as it reads in its set-up. */
export interface DatedMount {
  setup: string;
  at_s: number;
  value: number;
}

/** Change with time over occasions. */
export interface Drift {
  /** in the unit of the values, a year */
  per_year: number;
  ci95: [low: number, high: number];
  occasions: number;
  df: number;
}

/**
 * How what is mounted changes over the years: a line through the means of its occasions, each set-up with a level of its own. Mounts of one
 * occasion share its day, its hands and its set-up, so that their number makes no slope surer; and a material that leads by more in one
 * set-up than in another, measured a year apart, has not changed. What moves the whole set-up moves the line too.
 * @returns null where no set-up has occasions apart, or none is left to tell their scatter: three on one set-up, one more for each further
 * @see Searle, Casella, McCulloch, Variance Components (1992), on nested errors; Student's t on occasions − set-ups − 1
 */
export function driftOverYears(mounts: DatedMount[]): Drift | null {
  const setups = [...grouped(mounts, (m) => m.setup).values()].map(occasionsOf).filter((o) => o.length > 1);
  let [sxx, sxy, syy] = [0, 0, 0];
  for (const occasions of setups) {
    const [t, y] = [mean(occasions.map((o) => o.t)), mean(occasions.map((o) => o.value))];
    for (const o of occasions) {
      sxx += (o.t - t) ** 2;
      sxy += (o.t - t) * (o.value - y);
      syy += (o.value - y) ** 2;
    }
  }
  const occasions = setups.reduce((sum, o) => sum + o.length, 0);
  const df = occasions - setups.length - 1;
  if (df < 1) return null;
  const slope = sxy / sxx;
  const half = tQuantile(0.975, df) * Math.sqrt(Math.max(0, syy - slope * sxy) / df / sxx);
  return { per_year: slope, ci95: [slope - half, slope + half], occasions, df };
}

/** Means over mounts that lie close together, with their mean time, years. */
function occasionsOf(mounts: DatedMount[]): { t: number; value: number }[] {
  const found: DatedMount[][] = [];
  for (const m of [...mounts].sort((a, b) => a.at_s - b.at_s)) {
    const last = found.at(-1);
    if (last && m.at_s - last[0].at_s <= OCCASION_DAYS * DAY_S) last.push(m);
    else found.push([m]);
  }
  return found.map((own) => ({ t: mean(own.map((m) => m.at_s / YEAR_S)), value: mean(own.map((m) => m.value)) }));
}
