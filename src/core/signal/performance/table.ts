import { RowWalker, splitRow } from '#core/signal/logs/cells';

/** Most rows of a results file that are looked at. */
const MOST_ROWS = 2_000_000;

/** Rows of a text whose cells stand between the sign that occurs most often in it: comma, semicolon, tab or colon. */
export function readLayoutless(text: string): string[][] {
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
