import { readFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readResults } from '#core/signal/performance/readResults';
import { reduceLogs } from '#core/signal/reduce/reduceLogs';
import { decodeText } from './decode';
import { LogReader } from './logReader';
import { readLog } from './readLog';
import { LogError } from './types';

const folder = new URL('../../../../tests/reference/logs/', import.meta.url);
const encode = (text: string) => new TextEncoder().encode(text);
/** Head of a reference log, long enough to hold its load. */
const start = (name: string, lines = 500) => {
  const text = decodeText(name, new Uint8Array(readFileSync(new URL(name, folder))));
  return encode(`${text.split(/\r?\n/).slice(0, lines).join('\n')}\n`);
};
const GOOD = ['plain.csv', 'warm_start.tsv', 'fahrenheit.csv', 'gaps.csv', 'over_midnight.csv', 'throttled.csv', 'bench.csv'].map((n) =>
  start(n),
);
/** Any file ends in a reading whose figures are numbers, or in one sentence that names the file. */
function endsWell(bytes: Uint8Array): void {
  try {
    const { reduction } = reduceLogs([{ name: 'fuzz.csv', bytes }], {}, { limit_c: 92 });
    const seen = JSON.stringify(reduction);
    expect(reduction.duration_s).toBeGreaterThan(0);
    // JSON has no NaN and no infinity: they would stand as null, so every number is asked
    expect(seen).not.toMatch(/NaN|Infinity/);
    for (const v of [reduction.rise_k, reduction.se_k, reduction.power_w, reduction.period_s])
      if (v !== null) expect(Number.isFinite(v)).toBe(true);
  } catch (error) {
    if (!(error instanceof LogError)) throw error;
    expect(error.message).toMatch(/^fuzz\.csv.*[.!?]$/s);
    expect(error.message.split('\n')).toHaveLength(1);
    expect(error.message.length).toBeLessThan(800);
  }
}

const good = fc.constantFrom(...GOOD);
const runs = (numRuns: number) => ({ numRuns, endOnFailure: true });

describe('a fuzz corpus ends in a sentence or a right reading', () => {
  it('bytes of any kind', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 4000 }), (bytes) => endsWell(bytes)),
      runs(200),
    );
  });
  it('good logs cut anywhere', () => {
    fc.assert(
      fc.property(good, fc.double({ min: 0, max: 1, noNaN: true }), (log, share) =>
        endsWell(log.subarray(0, Math.floor(share * log.length))),
      ),
      runs(60),
    );
  });
  it('good logs with bytes changed', () => {
    fc.assert(
      fc.property(good, fc.array(fc.tuple(fc.nat(), fc.nat(255)), { minLength: 1, maxLength: 40 }), (log, changes) => {
        const bytes = log.slice();
        for (const [at, byte] of changes) bytes[at % bytes.length] = byte;
        endsWell(bytes);
      }),
      runs(60),
    );
  });
  it('lines moved, doubled, joined and taken away', () => {
    fc.assert(
      fc.property(
        good,
        fc.array(fc.tuple(fc.nat(), fc.nat(), fc.constantFrom('move', 'double', 'join', 'drop')), { maxLength: 30 }),
        (log, edits) => {
          const lines = new TextDecoder().decode(log).split('\n');
          for (const [a, b, how] of edits) {
            const i = a % lines.length;
            if (how === 'drop') lines.splice(i, 1);
            else if (how === 'double') lines.splice(i, 0, lines[i]);
            else if (how === 'join') lines.splice(i, 2, lines.slice(i, i + 2).join(''));
            else lines.splice(b % lines.length, 0, ...lines.splice(i, 1));
            if (lines.length === 0) break;
          }
          endsWell(encode(lines.join('\n')));
        },
      ),
      runs(60),
    );
  });
  it('separators, quotes and line ends mixed', () => {
    const cell = fc.oneof(
      fc.constantFrom(
        '"',
        '""',
        '"a',
        'a"b',
        '-127',
        'N/A',
        '1,5',
        '1.234,5',
        '2026-06-01',
        '10:00:00',
        '∞',
        '°C',
        '1e308',
        '-1e308',
        '9.9E37',
      ),
      fc.double().map(String),
      fc.integer().map(String),
    );
    const row = fc
      .tuple(fc.array(cell, { maxLength: 8 }), fc.constantFrom(',', ';', '\t', ' ', ', '), fc.constantFrom('\n', '\r\n', '\r', ''))
      .map(([c, d, e]) => c.join(d) + e);
    fc.assert(
      fc.property(fc.array(row, { maxLength: 60 }), (rows) => endsWell(encode(rows.join('')))),
      runs(200),
    );
  });
  it('times that jump by years, and numbers at the ends of their range', () => {
    const moment = fc.oneof(
      fc.integer({ min: 0, max: 600 }),
      fc.integer({ min: -2_000_000_000, max: 2_000_000_000 }),
      fc.constantFrom(1e15, -1e15, 0.001),
    );
    const reading = fc.oneof(fc.double({ min: 20, max: 90, noNaN: true }), fc.constantFrom(1e300, -1e300, 0, -127, 655.35, Number.NaN));
    fc.assert(
      fc.property(fc.array(fc.tuple(moment, reading, reading, reading), { minLength: 2, maxLength: 300 }), (rows) => {
        endsWell(encode(`Time (s),Die (°C),Room (°C),Power (W)\n${rows.map((r) => r.join(',')).join('\n')}\n`));
      }),
      runs(100),
    );
  });
  it('any text as results of a program', () => {
    fc.assert(
      fc.property(fc.oneof(fc.string({ maxLength: 300 }), fc.json()), (content) => {
        try {
          const { score, run_time_s, frame_rate } = readResults('r.json', encode(content));
          for (const v of [score, run_time_s, frame_rate]) if (v !== null) expect(v).toBeGreaterThanOrEqual(0);
        } catch (error) {
          expect(error).toBeInstanceOf(LogError);
        }
      }),
      runs(200),
    );
  });
});

describe('files that are none', () => {
  const told = (bytes: Uint8Array, sentence: string) => {
    expect(() => readLog('x.csv', bytes)).toThrow(sentence);
  };
  it('10,000 columns', () => {
    const row = (f: (i: number) => string) => Array.from({ length: 10_000 }, (_, i) => f(i)).join(',');
    told(
      encode(`${row((i) => `C${i}`)}\n${Array.from({ length: 20 }, (_, t) => row((i) => String(i === 0 ? t : i))).join('\n')}\n`),
      '10000 columns; up to 2000 are read',
    );
  });
  it('one line of 100 MB, of digits, of cells, and of one quote', () => {
    const line = (unit: string, tail = '') => {
      const bytes = new Uint8Array(100 * 1024 * 1024);
      const piece = encode(unit);
      bytes.set(piece);
      // each pass doubles what is filled
      for (let filled = piece.length; filled < bytes.length; filled *= 2)
        bytes.copyWithin(filled, 0, Math.min(filled, bytes.length - filled));
      bytes.set(encode(tail));
      return bytes;
    };
    told(line('1234567890'), 'a row is longer than 4 MB');
    told(line('12.5,'), 'a row is longer than 4 MB');
    told(line('a', 'Time,Die (°C)\n1,41\n2,42\n3,"'), 'a row is longer than 4 MB');
  });
  it('a compressed file with another name, and a page', () => {
    told(new Uint8Array(gzipSync(Buffer.alloc(10_000_000))), 'not a text file');
    told(encode(`<!doctype html><html><body>${'<p>41.2, 22.0, 140</p>\n'.repeat(200)}</body></html>`), 'no line looks like readings');
  });
  it('more than is read', () => {
    expect(() => new LogReader('big.csv', {}, 400 * 1024 * 1024)).toThrow('the file has 400 MB; up to 256 MB are read');
  });
});

describe('pieces', () => {
  it('read the same however the bytes are cut', () => {
    const logs = [...GOOD, encode('Time,"Die\nnorth (°C)",Note\r\n0,41,"a, b"\r\n1,"41.5","c\n"\r\n2,42,d\r\n3,43,"'), utf16(GOOD[0])];
    fc.assert(
      fc.property(
        fc.constantFrom(...logs),
        fc.array(fc.integer({ min: 1, max: 3000 }), { minLength: 1, maxLength: 20 }),
        (bytes, sizes) => {
          const whole = readLog('a.csv', bytes, { day_first: true });
          const reader = new LogReader('a.csv', { day_first: true });
          for (let at = 0, k = 0; at < bytes.length; k++) {
            const size = sizes[k % sizes.length];
            reader.feed(bytes.subarray(at, at + size));
            at += size;
          }
          expect(reader.end()).toEqual(whole);
        },
      ),
      runs(40),
    );
  });
  it('read the same where the head of the file ends in the middle of a row', () => {
    const rows = Array.from({ length: 40_000 }, (_, i) => `${i / 10},${(40 + (i % 100) / 10).toFixed(1)},"22.${i % 10}"`);
    const bytes = encode(`Time (s),Die (°C),Room (°C)\n${rows.join('\n')}\n`);
    expect(bytes.length).toBeGreaterThan(600_000);
    const reader = new LogReader('a.csv');
    for (let at = 0; at < bytes.length; at += 65_521) reader.feed(bytes.subarray(at, at + 65_521));
    const log = reader.end();
    expect(log.t).toHaveLength(40_000);
    expect(log.columns[1].values[39_999]).toBe(22.9);
    expect(log.rows).toEqual({ partial: 0, ragged: 0, repeated: 0, summary: 0, out_of_order: 0 });
  });
});

function utf16(bytes: Uint8Array): Uint8Array {
  const text = new TextDecoder().decode(bytes);
  const out = new Uint8Array(2 + 2 * text.length);
  out.set([0xff, 0xfe]);
  for (let i = 0; i < text.length; i++) out.set([text.charCodeAt(i) & 255, text.charCodeAt(i) >> 8], 2 + 2 * i);
  return out;
}
