import { CourseResponse } from '#core/signal/course/courseResponse';
import { type LogBins, logBins } from '#core/signal/course/logBins';
import { type PowerCourse, plainStep } from '#core/signal/course/powerCourse';
import { type BinErrors, binErrors, type ReadingErrors, readingErrors, whitened } from '#core/signal/course/readingErrors';
import { joinSeries } from '#core/signal/trace/series';
import { effectiveSize } from '#core/stats/autocorrelation';
import { leastSquares } from '#core/stats/leastSquares';
import { nonlinearLeastSquares, withEntry } from '#core/stats/nonlinearLeastSquares';

/** What a course so far could be: a sum of exponentials that answer to the power, and how well it tells the readings. */
export interface Candidate {
  /** residual sum of squares in units of the readings' errors */
  rss: number;
  residuals: Float64Array;
  /** rise for infinite time at the power of now, and its variance for these time constants, K and K² */
  end: number;
  end_variance: number;
  /** what is still to come after the mean over the last window, and its variance */
  left: number;
  left_variance: number;
  /** what is left of each exponential now, K: the course goes on as end − Σ a·e^(−s/τ) */
  terms: { a: number; tau: number }[];
}

/** Where a course under load ends, as far as it tells so far. */
interface CourseEnd {
  best: Candidate;
  /** all that the readings do not exclude, the best among them */
  likely: Candidate[];
  df: number;
  /** what a residual sum of squares is worth: over one where the best candidate leaves more than the readings' errors */
  scale: number;
  /** 95 % interval of the rise for infinite time, K */
  low_k: number;
  high_k: number;
  /** one-sided 95 % bounds of what is still to come after the mean over the last window, K */
  left_low_k: number;
  left_high_k: number;
  /** scatter of a single reading, K */
  scatter_k: number;
}

/** Bins of a decade of time. */
const PER_DECADE = 40;
/** Time constants that are tried, as shares of the time seen, and how many. */
const FASTEST = 1 / 80;
const SLOWEST = 4;
const GRID = 24;
/** two time constants lie at least so many grid steps apart */
const CLOSEST = 0.3;
/** Share of the time seen after the load that is left out, for time constants faster than any tried. */
const SKIPPED = [0.03, 0.06, 0.1, 0.15, 0.22];
/** The rise before the load is known to about this, K: what else warmed it may still be leaving. */
const BEFORE_SD_K = 2;
/** χ² of one degree of freedom: 95 % two-sided and one-sided. */
const TWO_SIDED = 3.8415;
const ONE_SIDED = 2.7055;
/** χ² of two degrees of freedom, 95 %: what a second exponential must be better by. */
const SECOND = 5.9915;
/** A sum fits where its residuals lie within this many of their standard errors of what scatter leaves. */
const FITS = 1;
/** Beyond this share of the time seen nothing fast is left. */
const CALM = 0.13;
const PARAMETERS = 5;
const FEWEST_BINS = 12;
/** A later beginning is heard where its interval is not wider than so many times the first one's. */
const TELLS_AS_MUCH = 3;
/** The power moves in a step where it changes by this share. */
const STEP = 0.03;
/** Power and room are not steadier than this share of the rise. */
const FLOOR = 2e-4;

/**
 * The end of a course by profile likelihood over one and two exponentials, each of which answers to the power's own course, so that the end
 * of a boost is a step of its own. Time constants are tried on a grid, the best of each number settled by least squares; level and sizes
 * are linear and none of the sizes may change its sign. What follows the load and each step of the power too fast for two is left out, as
 * far as the residuals ask for; readings hang on each other as far as the best sum leaves them to.
 * @param t s since the load came on, rising
 * @param rise K over the room there
 * @param power its course since then as a share of the power of now; null where none was logged
 * @param window_s window that is averaged, s
 * @returns null where no such sum can be told
 */
export function courseEnd(t: Float64Array, rise: Float64Array, power: PowerCourse | null, window_s: number): CourseEnd | null {
  const span = t[t.length - 1];
  const own = readingErrors(rise.slice(Math.floor(rise.length / 3)), null);
  const stepped_s = lastStep(power);
  const from = (share: number, errors: ReadingErrors) => {
    const skipped = share * span;
    const after = stepped_s > 0 ? binsBetween(t, rise, stepped_s + skipped, span) : null;
    const bins = joined(binsBetween(t, rise, skipped, after ? stepped_s : span), after);
    if (!bins || bins.mean.length < FEWEST_BINS) return null;
    return search(bins, errorsOf(bins, errors), power, span, window_s, rise[0]);
  };
  // how far readings hang on each other is seen where nothing fast is left
  const calm = from(CALM, own);
  const errors = calm ? { ...own, hanging: hangingOf(t, rise, CALM * span + stepped_s, calm.best, own) } : own;
  const fits = ({ best, df }: Told) => best.rss < df + FITS * Math.sqrt(2 * df);
  const told: (Told | null)[] = [];
  for (const share of SKIPPED) {
    const found = from(share, errors);
    told.push(found);
    if (found && fits(found)) break;
  }
  const misfit = told.map((f) => (f ? f.best.rss / f.df : Number.POSITIVE_INFINITY));
  const fitting = told.findIndex((f) => f && fits(f));
  // where none fits, the best one speaks with errors as wide as what it leaves
  const chosen = fitting < 0 ? misfit.indexOf(Math.min(...misfit)) : fitting;
  const first = told[chosen];
  if (!first) return null;
  // what hides in the scatter of the beginning still bends the course a little: a later beginning must agree
  const next = told[chosen + 1] ?? (chosen + 1 < SKIPPED.length ? from(SKIPPED[chosen + 1], errors) : null);
  const later = next && next.high_k - next.low_k < TELLS_AS_MUCH * (first.high_k - first.low_k) ? next : first;
  return {
    ...first,
    scatter_k: errors.scatter,
    low_k: Math.min(first.low_k, later.low_k),
    high_k: Math.max(first.high_k, later.high_k),
    left_low_k: Math.min(first.left_low_k, later.left_low_k),
    left_high_k: Math.max(first.left_high_k, later.left_high_k),
  };
}

type Told = Omit<CourseEnd, 'scatter_k'>;

/** Bins of the readings between two moments; null where they are few. */
function binsBetween(t: Float64Array, rise: Float64Array, from_s: number, to_s: number): LogBins | null {
  const first = t.findIndex((x) => x > from_s);
  const end = t.findIndex((x) => x > to_s);
  const last = end < 0 ? t.length : end;
  return first < 0 || last - first < 5 ? null : logBins(t.slice(first, last), rise.slice(first, last), PER_DECADE);
}

function joined(a: LogBins | null, b: LogBins | null): LogBins | null {
  if (!a || !b) return a ?? b;
  return {
    first: joinSeries(a.first, b.first),
    count: joinSeries(a.count, b.count),
    apart: joinSeries(a.apart, b.apart),
    mean: joinSeries(a.mean, b.mean),
  };
}

const errorsOf = (bins: LogBins, errors: ReadingErrors): BinErrors => binErrors(bins, errors, FLOOR * Math.max(...bins.mean.map(Math.abs)));

/** What one time constant answers: at the bins in units of their errors, now, and over the last window. */
interface Answer {
  tau: number;
  column: Float64Array;
  now: number;
  window: number;
}

interface Problem {
  answer: (place: number) => Answer;
  stepped: boolean;
  y: Float64Array;
  ones: Float64Array;
  /** power at each bin, whitened: what answers at once */
  at_once: Float64Array;
  before: number;
}

/** One search over the grid and from its best places, which share what was tried. */
function search(bins: LogBins, errors: BinErrors, power: PowerCourse | null, span: number, window_s: number, before: number): Told | null {
  const course = power ?? plainStep(1e-3);
  const answers = new Map<number, Answer>();
  const last = {
    first: Float64Array.of(Math.max(0, span - window_s)),
    count: Float64Array.of(60),
    apart: Float64Array.of(Math.min(span, window_s) / 60),
    mean: Float64Array.of(0),
  };
  const response = new CourseResponse(bins, course);
  const window = new CourseResponse(last, course);
  const now = new CourseResponse(
    { first: Float64Array.of(span), count: Float64Array.of(1), apart: Float64Array.of(0), mean: Float64Array.of(0) },
    course,
  );
  const answer = (place: number): Answer => {
    const known = answers.get(place);
    if (known) return known;
    const tau = FASTEST * span * (SLOWEST / FASTEST) ** (place / (GRID - 1));
    const made = { tau, column: whitened(errors, response.at(tau)), now: now.at(tau)[0], window: window.at(tau)[0] };
    answers.set(place, made);
    return made;
  };
  const problem: Problem = {
    ...{ answer, before },
    stepped: course.share.some((s, k) => k > 1 && Math.abs(s - 1) > STEP),
    y: whitened(errors, bins.mean),
    ones: whitened(errors, new Float64Array(bins.mean.length).fill(1)),
    at_once: whitened(errors, response.at(1e-6 * span)),
  };
  const tried = new Map<string, Candidate | null>();
  const tryOut = (places: number[]) => tried.set(places.join(), candidate(problem, places));
  for (let i = 0; i < GRID; i++) {
    tryOut([i]);
    for (let j = i + 1; j < GRID; j++) tryOut([i, j]);
  }
  const all = () => [...tried].flatMap(([key, c]) => (c ? [{ places: key.split(',').map(Number), c }] : []));
  if (all().length === 0) return null;
  const df = Math.max(1, bins.mean.length - 6);
  // off the grid to the very best of each number of exponentials, and how far their time constants may lie from there
  const settled = [1, 2].flatMap((n) => {
    const of_n = all().filter((k) => k.places.length === n);
    if (of_n.length === 0) return [];
    const start = of_n.reduce((b, k) => (k.c.rss < b.c.rss ? k : b)).places;
    return settle(start, (places) => (inOrder(places) ? candidate(problem, places) : null), tried) ?? [];
  });
  const known = all();
  const best = known.reduce((b, k) => (k.c.rss < b.c.rss ? k : b));
  const scale = Math.max(1, best.c.rss / df);
  // where one exponential tells the readings as well, errors by slopes mean nothing for the second: the grid tells how far it may reach
  const [one, two] = settled;
  const sure = two && one.rss - two.rss < SECOND * scale ? [one] : settled;
  const likely = [...known.map(({ c }) => c), ...sure].filter((c) => c.rss < best.c.rss + TWO_SIDED * scale);
  const most = (limit: number, sign: 1 | -1, of: 'end' | 'left') =>
    sign * Math.max(...likely.map((c) => sign * reach(c, best.c.rss + limit * scale, sign, of)));
  return {
    ...{ best: best.c, likely, df, scale },
    ...{ low_k: most(TWO_SIDED, -1, 'end'), high_k: most(TWO_SIDED, 1, 'end') },
    ...{ left_low_k: most(ONE_SIDED, -1, 'left'), left_high_k: most(ONE_SIDED, 1, 'left') },
  };
}

const inOrder = (places: number[]) => places.every((p, i) => p >= 0 && p <= GRID - 1 && (i === 0 || p - places[i - 1] > CLOSEST));

/**
 * From a place on the grid to the least residuals near it, by damped Gauss–Newton steps; the variances then hold what the time constants
 * are unsure by (block inverse of the normal matrix).
 */
function settle(start: number[], fitAt: (places: number[]) => Candidate | null, tried: Map<string, Candidate | null>): Candidate | null {
  const found = nonlinearLeastSquares((places) => fitAt(places)?.residuals ?? null, start, 30);
  const at = found && fitAt(found.parameters);
  if (!found || !at) return null;
  tried.set(found.parameters.join(), at);
  if (!found.inverse) return null;
  const { inverse } = found;
  const slopes = (of: 'end' | 'left') =>
    found.parameters.map((p, k) => {
      const moved = (by: number) => fitAt(withEntry(found.parameters, k, p + by));
      const [up, down] = [moved(1e-3), moved(-1e-3)];
      return ((up ?? at)[of] - (down ?? at)[of]) / (up && down ? 2e-3 : 1e-3);
    });
  const through = (g: number[]) => g.reduce((sum, x, i) => sum + g.reduce((s, z, j) => s + x * z * inverse[i][j], 0), 0);
  return { ...at, end_variance: at.end_variance + through(slopes('end')), left_variance: at.left_variance + through(slopes('left')) };
}

/** How far a candidate's figure may lie up or down with a residual sum of squares below a limit. */
function reach(c: Candidate, limit: number, sign: number, of: 'end' | 'left'): number {
  const room = limit - c.rss;
  if (room < 0) return sign * Number.NEGATIVE_INFINITY;
  return c[of] + sign * Math.sqrt(room * (of === 'end' ? c.end_variance : c.left_variance));
}

/** The fit with given time constants; null where one of its sizes would have the other sign. */
function candidate({ answer, stepped, y, ones, at_once, before }: Problem, places: number[]): Candidate | null {
  const n = y.length;
  const tall = (column: Float64Array) => {
    const out = new Float64Array(n + 1);
    out.set(column);
    return out;
  };
  const level = tall(ones);
  const target = tall(y);
  // with one power all through, what answers at once is part of the level
  if (stepped) {
    level[n] = 1 / BEFORE_SD_K;
    target[n] = before / BEFORE_SD_K;
  }
  const answers = places.map(answer);
  const columns = [level, ...(stepped ? [tall(at_once)] : []), ...answers.map((a) => tall(a.column))];
  const fit = leastSquares(columns, target);
  if (!fit) return null;
  const firstSize = columns.length - places.length;
  const sizes = Array.from(fit.coefficients.subarray(firstSize));
  if (!(sizes.every((v) => v > 0) || (!stepped && sizes.every((v) => v < 0)))) return null;
  if (stepped && fit.coefficients[1] < 0) return null;
  const inverse = fit.inverse();
  const variance = (a: number[]) => a.reduce((sum, x, i) => sum + a.reduce((s, z, j) => s + x * z * inverse[i][j], 0), 0);
  const dot = (a: number[]) => a.reduce((sum, x, i) => sum + x * fit.coefficients[i], 0);
  const toEnd = columns.map(() => 1);
  const toLeft = columns.map((_, k) => (k < firstSize ? 0 : 1 - answers[k - firstSize].window));
  return {
    rss: fit.rss,
    residuals: target.map((v, i) => v - columns.reduce((sum, c, k) => sum + c[i] * fit.coefficients[k], 0)),
    ...{ end: dot(toEnd), end_variance: variance(toEnd), left: dot(toLeft), left_variance: variance(toLeft) },
    terms: sizes.map((r, k) => ({ a: r * (1 - answers[k].now), tau: answers[k].tau })),
  };
}

/**
 * How many times fewer the readings are worth, by what the best candidate leaves of those after a moment: Geyer's sequence, which so short
 * a rest about a fit makes too small by about the share of its parameters.
 */
function hangingOf(t: Float64Array, rise: Float64Array, from_s: number, best: Candidate, { scatter, hanging }: ReadingErrors): number {
  const span = t[t.length - 1];
  const first = t.findIndex((x) => x > from_s);
  if (first < 0 || t.length - first < 30) return hanging;
  const rest = rise
    .slice(first)
    .map((v, i) => v - best.end + best.terms.reduce((sum, { a, tau }) => sum + a * Math.exp((span - t[first + i]) / tau), 0));
  const { n_eff, sd } = effectiveSize(rest);
  const fewer = (rest.length / n_eff) * (sd / scatter) ** 2;
  return Math.max(hanging, fewer / (1 - Math.min(0.5, (PARAMETERS * fewer) / rest.length)));
}

/** The last moment at which the power moved by more than it wavers. */
function lastStep(power: PowerCourse | null): number {
  if (!power) return 0;
  const { t, share } = power;
  for (let k = t.length - 1; k > 0; k--) if (Math.abs(share[k] - share[k - 1]) > STEP) return t[k];
  return 0;
}
