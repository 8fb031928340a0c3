import { RowWalker, splitRow } from '#core/signal/logs/cells';
import { decodeText } from '#core/signal/logs/decode';
import { commaReadings, parseNumber } from '#core/signal/logs/numbers';
import { wordsOf } from '#core/signal/logs/roles';
import { type Decimal, LogError } from '#core/signal/logs/types';
import { frameFigures } from './frames';

/** What a benchmark program says of its run. */
export interface ProgramResults {
  score: number | null;
  run_time_s: number | null;
  frame_rate: number | null;
  slow_frame_rate: number | null;
  frame_time_ms: number | null;
  /** frames that were timed singly */
  frames: number;
}

const MOST_RESULT_BYTES = 64 * 1024 * 1024;
const NONE: ProgramResults = { score: null, run_time_s: null, frame_rate: null, slow_frame_rate: null, frame_time_ms: null, frames: 0 };

const SCORE = /\b(score|points|overall result)\b/i;
const RUN_TIME = /\b((run|elapsed|total|render|wall|finish)[ _-]?time|duration|elapsed)\b/i;
const FRAME_TIME = /\b(frame[ _-]?times?|ms between frames)\b/i;
const FRAME_RATE = /\b(frame[ _-]?rate|frames per second|fps)\b/i;

/** Seconds, or milliseconds where wanted, of a number with the unit that stands in its name or behind it; none means the given one. */
function inSeconds(value: number, text: string, otherwise: number): number {
  if (/\bmin(utes?)?\b/i.test(text)) return 60 * value;
  if (/µs|\bus\b|microsec/i.test(text)) return value / 1e6;
  if (/\bms\b|millisec/i.test(text)) return value / 1e3;
  if (/\bs(ec(onds?)?)?\b/i.test(text)) return value;
  return value * otherwise;
}

/**
 * Reads a results file of a benchmark program: JSON, a table of frames or results, or lines of a name and a value.
 * @throws LogError where no score, run time or frame is found, or a number is impossible
 */
export function readResults(file: string, bytes: Uint8Array): ProgramResults {
  if (bytes.length > MOST_RESULT_BYTES)
    throw new LogError(
      file,
      `the file has ${Math.round(bytes.length / 1048576)} MB; up to ${MOST_RESULT_BYTES / 1048576} MB of results are read.`,
    );
  const text = decodeText(file, bytes).trim();
  const found = /^[[{]/.test(text) ? fromJson(file, text) : fromTable(file, text);
  const { score, run_time_s, frame_rate, frame_time_ms } = found;
  if (score === null && run_time_s === null && frame_rate === null) {
    throw new LogError(
      file,
      'no score, run time, frame rate or frame time is found; a results file names at least one of them with a number.',
    );
  }
  for (const [what, value] of Object.entries({ score, 'run time': run_time_s, 'frame rate': frame_rate, 'frame time': frame_time_ms })) {
    if (value !== null && !(value >= 0 && value < 1e12)) throw new LogError(file, `a ${what} of ${value} is not plausible.`);
  }
  return found;
}

/** True where the first bytes of a file look like results and not like a log: JSON, or a table of frames or scores without temperatures. */
export function looksLikeResults(head: string): boolean {
  const text = head.trim();
  if (/^[[{]/.test(text)) return true;
  const top = wordsOf(text.slice(0, 2000));
  return (
    (SCORE.test(top) || RUN_TIME.test(top) || FRAME_TIME.test(top) || FRAME_RATE.test(top)) &&
    !/°|\btemp|\bdeg|\bcelsius\b|\b(die|core|ambient|room|power)\b/i.test(top)
  );
}

function fromJson(file: string, text: string): ProgramResults {
  let parsed: unknown;
  try {
    parsed = JSON.parse(text);
  } catch {
    throw new LogError(file, 'this begins like JSON but is not; it may be cut off.');
  }
  const gathered = new Gathered();
  const visit = (value: unknown, name: string, depth: number): void => {
    if (depth > 6) return;
    if (Array.isArray(value)) {
      const numbers = value.filter((v): v is number => typeof v === 'number');
      if (numbers.length > 0 && numbers.length === value.length) gathered.list(name, numbers);
      else for (const v of value.slice(0, 200_000)) visit(v, name, depth + 1);
    } else if (typeof value === 'object' && value !== null) {
      for (const [key, v] of Object.entries(value)) visit(v, key, depth + 1);
    } else if (typeof value === 'number') gathered.one(name, value);
    else if (typeof value === 'string') {
      const parts = /^\s*([-+]?\d+(?:\.\d+)?(?:e[-+]?\d+)?)\s*([a-zµ/ ]*)$/i.exec(value);
      if (parts) gathered.one(`${name} ${parts[2]}`, Number(parts[1]));
    }
  };
  visit(parsed, '', 0);
  return gathered.results();
}

/** The decimal sign that the numbers of a file show beyond doubt; null where none does. */
function decimalOf(rows: string[][]): Decimal | null {
  const cells = rows.slice(0, 2000).flat();
  const point = cells.filter((c) => /^[-+−]?\d+\.\d+\b/.test(c)).length;
  const comma = cells.filter((c) => /^[-+−]?\d+,(\d{1,2}|\d{4,})(\D|$)/.test(c)).length;
  if (point === comma) return null;
  return point > comma ? '.' : ',';
}

function fromTable(file: string, text: string): ProgramResults {
  const gathered = new Gathered();
  const rows = readLayoutless(text);
  const header = rows.find((r) => r.length > 1 && r.every((c) => c === '' || Number.isNaN(Number(c.replace(',', '.')))));
  const at = header ? rows.indexOf(header) : -1;
  const numbersBelow = header
    ? rows.slice(at + 1).filter((r) => r.length === header.length && r.some((c) => c !== '' && !Number.isNaN(Number(c))))
    : [];
  if (header && numbersBelow.length > 0 && header.some((name) => isNamed(name))) {
    for (const [i, name] of header.entries()) {
      const values = numbersBelow.map((r) => Number(r[i])).filter((v) => !Number.isNaN(v));
      if (values.length > 0) gathered.list(name, values);
    }
  }
  // lines of a name and a value
  const decimal = decimalOf(rows);
  for (const row of rows) {
    if (row.length < 2 || row.length > 3) continue;
    const [, digits = '', rest = ''] = /^([-+−]?\d[\d.,'’]*(?:e[-+]?\d+)?)(.*)$/i.exec(row[1]) ?? [];
    const both = commaReadings(digits);
    if (both && decimal === null && isNamed(row[0])) {
      throw new LogError(
        file,
        `"${row[0]}" is "${digits}", which may be ${both[0]} or ${both[1]}; write it without the comma, or type it.`,
      );
    }
    const value = parseNumber(digits, decimal ?? (/^[-+−]?\d+,\d+$/.test(digits) ? ',' : '.'));
    if (!Number.isNaN(value)) gathered.one(`${row[0]} ${rest} ${row[2] ?? ''}`, value);
  }
  return gathered.results();
}

function isNamed(name: string): boolean {
  const said = wordsOf(name);
  return [SCORE, RUN_TIME, FRAME_TIME, FRAME_RATE].some((p) => p.test(said));
}

/** Figures by the names they come under; the first of a kind counts, lists of frames before rates that were worked out by the program. */
class Gathered {
  private found: ProgramResults = { ...NONE };

  one(name: string, value: number): void {
    const said = wordsOf(name);
    if (FRAME_TIME.test(said)) return;
    if (FRAME_RATE.test(said)) {
      if (/\b(1 ?%|0\.1 ?%|low|slow|min|percentile|p ?\d+)\b/i.test(said)) this.found.slow_frame_rate ??= value;
      else if (!/\bmax/i.test(said)) this.found.frame_rate ??= value;
    } else if (SCORE.test(said)) this.found.score ??= value;
    else if (RUN_TIME.test(said)) this.found.run_time_s ??= inSeconds(value, said, 1);
  }

  list(name: string, values: number[]): void {
    const said = wordsOf(name);
    if (FRAME_TIME.test(said)) {
      // a list without a unit is in milliseconds, or in seconds where no frame takes as much as one
      const typical = values[Math.floor(values.length / 2)];
      const unit = typical < 0.5 ? 1 : 1e-3;
      const figures = frameFigures(values.map((v) => 1000 * inSeconds(v, said, unit)));
      if (figures) this.found = { ...this.found, ...figures, frames: values.length };
    } else if (FRAME_RATE.test(said)) {
      const figures = values.length > 1 && this.found.frames === 0 ? frameFigures(values.map((v) => 1000 / v)) : null;
      if (figures) this.found = { ...this.found, ...figures };
      else if (values.length === 1) this.one(name, values[0]);
    } else if (SCORE.test(said)) this.found.score ??= values.reduce((a, b) => a + b, 0) / values.length;
    else if (RUN_TIME.test(said)) this.found.run_time_s ??= inSeconds(values[values.length - 1], said, 1);
  }

  results(): ProgramResults {
    const { found } = this;
    if (found.frame_rate !== null && found.frame_time_ms === null && found.frame_rate > 0)
      return { ...found, frame_time_ms: 1000 / found.frame_rate };
    return found;
  }
}

/** Most rows of a results file that are looked at. */
const MOST_ROWS = 2_000_000;

/** Rows of a text whose cells stand between the sign that occurs most often in it: comma, semicolon, tab or colon. */
function readLayoutless(text: string): string[][] {
  const head = text.slice(0, 20_000);
  const count = (sign: string) => head.split(sign).length - 1;
  const delimiter = [';', '\t', ','].reduce((best, d) => (count(d) > count(best) ? d : best), ';');
  const sign = count(delimiter) > 0 ? delimiter : count(':') > 0 ? ':' : ',';
  const bytes = new TextEncoder().encode(`${text}\n`);
  const walker = new RowWalker(bytes, bytes.includes(10) ? 10 : 13, sign.charCodeAt(0), true);
  const decoder = new TextDecoder();
  const rows: string[][] = [];
  for (let row = walker.rowAt(0); row !== null && rows.length < MOST_ROWS; row = walker.rowAt(row.next)) {
    if (row.to > row.from) rows.push(splitRow(bytes, row, sign.charCodeAt(0), decoder).map((c) => c.trim()));
  }
  return rows;
}
