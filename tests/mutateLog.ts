import type { LogFile } from '#core/signal/reduce/reduceLogs';
import { type Random, seededRandom } from '#core/stats/random';

/** Changes that leave what a log says as it is: a person would still publish its figure. */
export const HARMLESS = [
  'blank cells',
  'lost rows',
  'doubled rows',
  'carriage returns',
  'semicolons',
  'a preamble',
  'a cut last row',
  'one wild time',
  'blank lines',
  'a summary',
] as const;
/** Changes that may hurt: the figure must stay near the truth, or not be valid. */
export const HARMFUL = [
  'bytes',
  'cells of one column',
  'one column dead from somewhere',
  'one column frozen from somewhere',
  'one column scaled',
  'two columns swapped',
  'header words swapped',
  'times shifted from somewhere',
  'times in disorder',
  'rows shuffled in a stretch',
  'a stretch of rows lost',
  'cells moved by a column',
  'wild numbers',
] as const;
export type Mutation = (typeof HARMLESS)[number] | (typeof HARMFUL)[number];

const IMPOSSIBLE = ['-127.0', '655.35', '0.0', '85.00', '', 'N/A', '1e308', '-1e308', '999999', 'ERR'];

/** A file with one kind of change, drawn from a seed. */
export function mutateLog(file: LogFile, kind: Mutation, seed: number): LogFile {
  const random = seededRandom(seed);
  const whole = (n: number) => Math.min(n - 1, Math.floor(random.uniform() * n));
  if (kind === 'bytes') {
    const bytes = file.bytes.slice();
    for (let k = 1 + whole(60); k > 0; k--) bytes[whole(bytes.length)] = whole(256);
    return { ...file, bytes };
  }
  const lines = new TextDecoder().decode(file.bytes).trimEnd().split('\n');
  const changed = (MUTATIONS[kind] as Change)(lines, whole, random);
  return { ...file, bytes: new TextEncoder().encode(`${changed.join('\n')}${kind === 'a cut last row' ? '' : '\n'}`) };
}

type Change = (lines: string[], whole: (n: number) => number, random: Random) => string[];

/** Applies a change to the cells of data rows from a row on. */
const cells = (lines: string[], change: (row: string[], i: number) => string[]) =>
  lines.map((l, i) => (i === 0 || l.startsWith('Time') ? l : change(l.split(','), i).join(',')));
const column =
  (change: (cell: string, i: number, from: number, column: number) => string): Change =>
  (lines, whole) => {
    const at = 1 + whole(lines[0].split(',').length - 1);
    const from = whole(lines.length);
    return cells(lines, (row, i) => row.map((c, k) => (k === at ? change(c, i, from, at) : c)));
  };
/** Two columns of a log; a coolant is none of them, as nothing tells it from a room once it is called one. */
const twoColumns = (lines: string[], whole: (n: number) => number): [number, number] => {
  const open = lines[0].split(',').flatMap((h, k) => (k === 0 || h.startsWith('Coolant') ? [] : [k]));
  return [open[whole(open.length)], open[whole(open.length)]];
};
const wildOnce = (line: string) => line.replace(/^[^,]*/, '2031-01-01 00:00:00');
const shifted = (line: string, s: number) =>
  line.replace(/^[^,]*/, (stamp) => {
    const ms = Date.parse(`${stamp.replace(' ', 'T')}Z`);
    return Number.isNaN(ms) ? stamp : new Date(ms + 1000 * s).toISOString().replace('T', ' ').replace('Z', '');
  });

const MUTATIONS: Record<Exclude<Mutation, 'bytes'>, Change> = {
  'blank cells': (lines, whole) =>
    cells(lines, (row) => (whole(50) === 0 ? row.map((c, k) => (k === 1 + whole(row.length - 1) ? '' : c)) : row)),
  'lost rows': (lines, whole) => lines.filter((_, i) => i < 2 || whole(200) !== 0),
  'doubled rows': (lines, whole) => lines.flatMap((l, i) => (i > 0 && whole(300) === 0 ? [l, l] : [l])),
  'carriage returns': (lines) => lines.map((l) => `${l}\r`),
  semicolons: (lines) => lines.map((l) => l.replaceAll(',', ';')),
  'a preamble': (lines) => ['Recorder 7, serial 12', 'Operator: K. L.', '', ...lines],
  'a cut last row': (lines) => [...lines.slice(0, -1), lines[lines.length - 1].slice(0, 30)],
  'one wild time': (lines, whole) => {
    const at = 2 + whole(lines.length - 3);
    return lines.map((l, i) => (i === at ? wildOnce(l) : l));
  },
  'blank lines': (lines, whole) => lines.flatMap((l) => (whole(40) === 0 ? [l, ''] : [l])),
  'a summary': (lines) => [...lines, lines[lines.length - 1].replace(/^[^,]*/, 'Max')],
  'cells of one column': column((c, i) => (i % 7 === 3 ? IMPOSSIBLE[i % IMPOSSIBLE.length] : c)),
  'one column dead from somewhere': column((c, i, from, at) => (i >= from ? IMPOSSIBLE[at % 4] : c)),
  'one column frozen from somewhere': (lines, whole) => {
    const at = 1 + whole(lines[0].split(',').length - 1);
    const from = 1 + whole(lines.length - 1);
    let held = '';
    return cells(lines, (row, i) => {
      if (i >= from && held === '') held = row[at];
      return row.map((c, k) => (k === at && i >= from ? held : c));
    });
  },
  'one column scaled': column((c) => (c === '' ? c : (Number(c) * 1.8 + 32).toFixed(2))),
  'two columns swapped': (lines, whole) => {
    const [a, b] = twoColumns(lines, whole);
    return cells(lines, (row) => row.map((c, k) => (k === a ? row[b] : k === b ? row[a] : c)));
  },
  'header words swapped': (lines, whole) => {
    const head = lines[0].split(',');
    const [a, b] = twoColumns(lines, whole);
    return [head.map((c, k) => (k === a ? head[b] : k === b ? head[a] : c)).join(','), ...lines.slice(1)];
  },
  'times shifted from somewhere': (lines, whole) => {
    const from = 1 + whole(lines.length - 1);
    const by = [-7200, -3600, -900, -30, 60, 900, 3600][whole(7)];
    return lines.map((l, i) => (i >= from ? shifted(l, by) : l));
  },
  'times in disorder': (lines, whole) => lines.map((l, i) => (i > 0 && whole(20) === 0 ? shifted(l, whole(400) - 200) : l)),
  'rows shuffled in a stretch': (lines, whole) => {
    const from = 1 + whole(Math.max(1, lines.length - 200));
    const part = lines.slice(from, from + 200).sort(() => whole(3) - 1);
    return [...lines.slice(0, from), ...part, ...lines.slice(from + 200)];
  },
  'a stretch of rows lost': (lines, whole) => {
    const from = 1 + whole(lines.length - 1);
    return [...lines.slice(0, from), ...lines.slice(from + whole(lines.length))];
  },
  'cells moved by a column': (lines, whole) => {
    const from = 1 + whole(lines.length - 1);
    if (lines[0].includes('Coolant')) return lines;
    return cells(lines, (row, i) => (i >= from ? [row[0], ...row.slice(2), row[1]] : row));
  },
  'wild numbers': (lines, whole) =>
    cells(lines, (row) => row.map((c, k) => (k > 0 && whole(400) === 0 ? IMPOSSIBLE[whole(IMPOSSIBLE.length)] : c))),
};
