import { type Client, database } from '#app/database/pool';
import type { LogOptions } from '#core/signal/logs/types';
import type { ReduceOptions } from '#core/signal/reduce/types';
import { write } from '#core/text/words';
import {
  type Disagreement,
  hasPageChecksums,
  listBroken,
  listKeptFiles,
  listRunNumbers,
  STORE_RULES,
} from '#features/bench/store/integrity';
import { intactPieces } from '#features/run/server/keptFile';
import { readAnew } from '#features/run/server/readAnew';
import { getRun } from '#features/run/store/runs';

/** Figures that agree to this part of themselves are the same: another machine may round the last digits otherwise. */
const SAME = 1e-9;

/** What was found in the store. */
export interface StoreCheck {
  /** what was looked at, with how many of it */
  looked: { name: string; count: number | null }[];
  wrong: Disagreement[];
  /** whether the store sums its own pages */
  page_checksums: boolean;
}

export interface CheckOptions {
  /** leaves out reading every run anew from its files, which takes long */
  quick: boolean;
  /** told what is looked at, and how far that is */
  say: (what: string, done: number, total: number) => void;
}

/** Reads all there is in the store and lists what does not agree; nothing is changed. What cannot be read is listed, and the rest is read on. */
export async function checkStore({ quick, say }: CheckOptions, db: Client = database()): Promise<StoreCheck> {
  const check: StoreCheck = { looked: [], wrong: [], page_checksums: await hasPageChecksums(db) };
  const look = async (thing: string, work: () => Promise<Disagreement[]>) => {
    try {
      check.wrong.push(...(await work()));
    } catch (error) {
      check.wrong.push({ thing, wrong: error instanceof Error ? error.message : String(error) });
    }
  };
  for (const [i, rule] of STORE_RULES.entries()) {
    say(rule.name, i, STORE_RULES.length);
    await look(`The ${rule.name}`, () => listBroken(db, rule));
    check.looked.push({ name: rule.name, count: null });
  }
  const files = await listKeptFiles(db);
  for (const [i, file] of files.entries()) {
    say('log files', i, files.length);
    await look(`File ${file.name}`, async () => {
      for await (const _ of intactPieces(db, file));
      return [];
    });
  }
  check.looked.push({ name: 'log files', count: files.length });
  if (quick) return check;
  const runs = await listRunNumbers(db);
  for (const [i, { id }] of runs.entries()) {
    say('runs read anew', i, runs.length);
    await look(`Run ${id}`, () => differenceAnew(db, id));
  }
  check.looked.push({ name: 'runs read anew', count: runs.length });
  return check;
}

/** Where a run reads otherwise from its files than it is stored. */
async function differenceAnew(db: Client, id: number): Promise<Disagreement[]> {
  const run = await getRun(db, id);
  if (!run) return [];
  const now = await readAnew(run, run.reading as LogOptions, run.options as Partial<ReduceOptions>);
  const differs = (['rise_k', 'se_k', 'r_k_per_w'] as const).filter((f) => !isSame(run.result[f], now[f]));
  return differs.map((f) => ({
    thing: `Run ${id} of ${run.specimen}, mount ${run.mount}, in "${run.study}"`,
    wrong: `${f} is stored as ${figure(run.result[f])}, and reads ${figure(now[f])} from its files`,
  }));
}

const isSame = (a: number | null, b: number | null): boolean =>
  a === null || b === null ? a === b : Math.abs(a - b) <= SAME * Math.max(1, Math.abs(a));
const figure = (value: number | null): string => (value === null ? 'none' : write(value, 6));
