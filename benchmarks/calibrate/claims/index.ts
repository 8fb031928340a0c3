/**
 * What is printed around the comparison, held against planted truths. One table a subject, one row a claim and condition, in
 * docs/calibration.md; each place of the product links its table.
 */
import { CHECKED, type Checked } from '#ui/checked';
import { AGEING } from './ageing';
import { COMPARISON } from './comparison';
import { COOLERS } from './coolers';
import { LIVE } from './live';
import { PRINT } from './print';
import { RANKING } from './ranking';
import { TRANSIENT } from './transient';
import type { Case, Claim } from './types';

/** Every claim with its conditions; the short form takes a tenth of the cases. */
export const CLAIMS: Claim[] = [...TRANSIENT, ...LIVE, ...AGEING, ...PRINT, ...COOLERS, ...COMPARISON, ...RANKING];

/** Cases of one claim, one after the other. */
async function casesOf({ run, cases }: Claim, first: number, short: boolean): Promise<Case[]> {
  const all: Case[] = [];
  for (let i = 0; i < Math.max(4, short ? Math.round(cases / 10) : cases); i++) all.push(await run(first + i));
  return all;
}

/** Half the 95 % interval of a share by Wilson (1927), in percent: also where all or none held. */
function wilson(held: number, said: number): number {
  if (said === 0) return 0;
  const [p, z] = [held / said, 1.96];
  return (100 * z * Math.sqrt((p * (1 - p)) / said + (z / (2 * said)) ** 2)) / (1 + z ** 2 / said);
}

const SUBJECT = '### ';
export const CLAIMS_HEADING = '## Claims around the comparison';

/** One row: what held of what was said, and whether that is what was promised. */
function row({ claim, condition, promised, clean }: Claim, all: Case[]): string {
  const [least, most] = typeof promised === 'function' ? promised() : promised;
  const said = all.reduce((sum, c) => sum + c.said, 0);
  const count = all.reduce((sum, c) => sum + c.held, 0);
  const held = (100 * count) / Math.max(1, said);
  const error = wilson(count, said);
  const declined = all.filter((c) => c.declined).length;
  const rate = (100 * declined) / all.length;
  const missed = held + error < least || held - error > most ? 'held' : clean && rate - wilson(declined, all.length) > 1 ? 'declined' : '';
  const target = missed === '' ? 'met' : `**missed: ${missed}**`;
  return `| ${claim} | ${condition} | ${least} to ${most} | ${held.toFixed(1)} ± ${error.toFixed(1)} | ${said} | ${rate.toFixed(1)} | ${target} |`;
}

/** The part of docs/calibration.md on the claims around the comparison. */
export async function claimsPart(
  short: boolean,
  told: (words: string) => void = () => {},
  subjects = Object.keys(CHECKED) as Checked[],
): Promise<string> {
  const lines = [
    CLAIMS_HEADING,
    '',
    'Written by `npm run calibrate -- --claims`. Each claim is held against planted truths that are drawn anew for every case. *Held* in percent of the statements made, ± half the 95 % interval of such a share (Wilson 1927); *nothing said* in percent of the cases: at most 1 where a condition is ordinary.',
  ];
  for (const subject of subjects) {
    const rows: string[] = [];
    for (const [k, claim] of CLAIMS.entries()) {
      if (claim.subject !== subject) continue;
      rows.push(row(claim, await casesOf(claim, 7000 + 10_000 * k, short)));
      told(rows[rows.length - 1]);
    }
    if (rows.length === 0) continue;
    const head = [
      '| Claim | Condition | Promised | Held | Statements | Nothing said | Target |',
      '| --- | --- | ---: | ---: | ---: | ---: | --- |',
    ];
    lines.push('', `### ${CHECKED[subject]}`, '', ...head, ...rows);
  }
  return `${lines.join('\n')}\n`;
}

/** Puts that part at the end of a table, in place of the one it had; tables of subjects that the part does not have stay as they are. */
export function withClaims(text: string, part: string): string {
  const at = text.indexOf(CLAIMS_HEADING);
  const [, ...anew] = part.split(SUBJECT);
  const [head, ...known] = (at < 0 ? part : text.slice(at)).split(SUBJECT);
  const nameOf = (table: string) => table.split('\n')[0];
  const tables = new Map([...known, ...anew].map((table) => [nameOf(table), table.trim()]));
  return `${[`${(at < 0 ? text : text.slice(0, at)).trimEnd()}\n\n${head.trim()}`, ...tables.values()].join(`\n\n${SUBJECT}`)}\n`;
}
