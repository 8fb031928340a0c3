import { csvText } from '#core/text/csv';
import type { PackageResource } from './descriptor';

/** A channel of a run as its samples name it. */
export interface SampledChannel {
  name: string;
  /** file of the run it was read from */
  file: string;
  role: string;
  unit: string | null;
}

/** Readings of a channel on their own times, s on the run's clock. */
export interface SampledReadings {
  t: Float64Array;
  values: Float64Array | Float32Array;
}

const UCUM: Record<string, string> = { degC: 'Cel', W: 'W', A: 'A', V: 'V', MHz: 'MHz', rpm: '{rpm}', percent: '%', dB: 'dB', s: 's' };

export const samplesPath = (runId: number): string => `samples/${runId}.csv.gz`;

/** Names of the columns: those of the channels, each once. */
function columnNames(channels: SampledChannel[]): string[] {
  const taken = new Set(['elapsed_s', 'time']);
  return channels.map(({ name, file }) => {
    let column = name;
    if (taken.has(column)) column = `${name} (${file})`;
    for (let n = 2; taken.has(column); n++) column = `${name} (${n})`;
    taken.add(column);
    return column;
  });
}

/** What is told of the samples of a run: a column a channel, with its unit. */
export const samplesResource = (runId: number, channels: SampledChannel[]): Omit<PackageResource, 'bytes' | 'hash'> => ({
  ...{ name: `samples-${runId}`, path: samplesPath(runId), title: `Every reading of run ${runId}`, mediatype: 'text/csv' },
  ...{ encoding: 'utf-8', compression: 'gz', dialect: { delimiter: ',', lineTerminator: '\n' } },
  schema: {
    fields: [
      { name: 'elapsed_s', type: 'number', title: 'Time on the clock of the run', unit: 's' },
      { name: 'time', type: 'datetime', format: 'any', title: 'Moment; empty where the log does not tell it' },
      ...columnNames(channels).map((name, i) => {
        const unit = UCUM[channels[i].unit ?? ''];
        return { name, type: 'number', title: channels[i].role, ...(unit ? { unit } : {}) };
      }),
    ],
    missingValues: [''],
  },
});

/** First line of the samples of a run. */
export const samplesHead = (channels: SampledChannel[]): string => csvText([['elapsed_s', 'time', ...columnNames(channels)]]);

/**
 * Readings between two times as lines, one a moment at which any channel was read; a channel that was not is empty there.
 * @param from first moment, s; the last is before `to`
 * @param start_ms when the run began; null where that is not known
 */
export function samplesText(readings: SampledReadings[], from: number, to: number, start_ms: number | null): string {
  const at = readings.map(({ t }) => firstFrom(t, from));
  const lines: string[] = [];
  for (;;) {
    let now = to;
    for (let c = 0; c < readings.length; c++) if (readings[c].t[at[c]] < now) now = readings[c].t[at[c]];
    if (!(now < to)) return lines.join('');
    let line = `${now},${start_ms === null ? '' : new Date(start_ms + 1000 * now).toISOString()}`;
    for (let c = 0; c < readings.length; c++) {
      line += ',';
      if (readings[c].t[at[c]] !== now) continue;
      line += written(readings[c].values[at[c]]);
      at[c]++;
    }
    lines.push(`${line}\n`);
  }
}

/** Place of the first time that is not before a moment. */
function firstFrom(t: Float64Array, moment: number): number {
  let low = 0;
  let high = t.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (t[middle] < moment) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Readings of an instrument come again and again: what one is written as is remembered for a while. */
const MOST_REMEMBERED = 50_000;
const remembered = new Map<number, string>();

/** A reading with as many digits as a 32-bit float has; empty where it is missing. */
function written(value: number): string {
  const known = remembered.get(value);
  if (known !== undefined) return known;
  if (remembered.size >= MOST_REMEMBERED) remembered.clear();
  const text = digitsOf(value);
  remembered.set(value, text);
  return text;
}

function digitsOf(value: number): string {
  if (!Number.isFinite(value)) return '';
  const single = Math.fround(value);
  const short = Number(single.toPrecision(7));
  return String(Math.fround(short) === single ? short : Number(single.toPrecision(9)));
}
