/**
 * Error rates, interval coverage and power of the verdicts by simulation: `npm run calibrate` (long), `npm run calibrate -- --short`,
 * `npm run calibrate -- --sweeps` for the part on coolers alone, `npm run calibrate -- --claims` for what is claimed around the comparison,
 * or with `live print` for those subjects of it alone. Whole simulated campaigns go from raw logs through reduction to verdicts, and
 * studies from run values through the verdicts alone. Writes docs/calibration.md and the figures that the product shows where a school is
 * chosen. A run that was ended goes on where it was, by what it kept in .calibrate, as long as the code is the same and committed.
 */
import { execFileSync, fork } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { CHECKED, type Checked } from '#ui/checked';
import { CLAIMS_HEADING, claimsPart, withClaims } from './claims/index';
import { CONDITIONS, POWERS } from './conditions';
import { Kept } from './kept';
import { RAW_CONDITIONS, tallyRaw } from './rawLogs';
import { type Counted, figuresModule, sweepPart, table, withSweepPart } from './report';
import { SWEEP_CONDITIONS, tallySweeps } from './sweeps';
import { empty, JUDGES, type Judge, type Tally, tallyCondition } from './tally';

interface Job {
  key: string;
  count: number;
  seed: number;
}

const SHORT = process.argv.includes('--short');
const SWEEPS = process.argv.includes('--sweeps');
const CLAIMS = process.argv.includes('--claims');
const TABLE = 'docs/calibration.md';
const STUDIES = SHORT ? 400 : 20_000;
const CAMPAIGNS = SHORT ? 10 : 1000;
/** a long condition is cut into pieces, so that all processors have work to the end */
const PIECES = SHORT ? 1 : 4;

function work({ key, count, seed }: Job): Record<Judge, Tally> {
  const raw = RAW_CONDITIONS.find((c) => c.key === key);
  if (raw) return tallyRaw(raw, count, seed);
  const sweep = SWEEP_CONDITIONS.find((c) => c.key === key);
  if (sweep) return tallySweeps(sweep, count, seed);
  const condition = [...CONDITIONS, ...POWERS].find((c) => c.key === key);
  if (!condition) throw new Error(`There is no condition ${key}.`);
  return tallyCondition(condition, count, seed);
}

function jobs(): Job[] {
  const cut = (key: string, total: number, first: number) =>
    Array.from({ length: PIECES }, (_, i) => ({ key, count: Math.round(total / PIECES), seed: first + i * 1_000_000 }));
  return [
    ...RAW_CONDITIONS.flatMap((c, i) => cut(c.key, CAMPAIGNS, 1 + 10_000 * i)),
    ...SWEEP_CONDITIONS.flatMap((c, i) => cut(c.key, STUDIES, 900 + i)),
    ...[...CONDITIONS, ...POWERS].flatMap((c, i) => cut(c.key, STUDIES, 500 + i)),
  ];
}

async function main(): Promise<void> {
  if (CLAIMS) return writeClaims();
  const sweeps = new Set(SWEEP_CONDITIONS.map((c) => c.key));
  const waiting = jobs().filter((j) => !SWEEPS || sweeps.has(j.key));
  const total = waiting.length;
  const counted: Counted = new Map();
  let done = 0;
  const began = Date.now();
  const kept = SHORT ? null : new Kept();
  await Promise.all(
    Array.from({ length: availableParallelism() }, async () => {
      for (let job = waiting.shift(); job; job = waiting.shift()) {
        const known = kept?.get(job);
        const part = known ?? (await inProcess(job));
        if (!known) kept?.add(job, part);
        add(counted, job.key, part);
        console.log(`${++done} of ${total}: ${job.key}, ${Math.round((Date.now() - began) / 1000)} s`);
      }
    }),
  );
  console.log(SWEEPS ? sweepPart(counted) : table(counted));
  if (SHORT) return;
  if (SWEEPS) {
    writeFileSync('docs/calibration.md', withSweepPart(readFileSync('docs/calibration.md', 'utf8'), sweepPart(counted)));
    execFileSync('npx', ['biome', 'check', '--write', 'docs/calibration.md']);
    return;
  }
  const claims = readFileSync(TABLE, 'utf8').split(CLAIMS_HEADING)[1];
  writeFileSync(TABLE, claims === undefined ? table(counted) : withClaims(table(counted), `${CLAIMS_HEADING}${claims}`));
  writeFileSync('src/core/compare/calibration.ts', figuresModule(counted));
  execFileSync('npx', ['biome', 'check', '--write', 'docs/calibration.md', 'src/core/compare/calibration.ts']);
  console.log('Written: docs/calibration.md and src/core/compare/calibration.ts.');
}

/** The claims around the comparison alone, on one processor; only some where their subjects are named. */
async function writeClaims(): Promise<void> {
  const named = process.argv.filter((a): a is Checked => a in CHECKED);
  const part = await claimsPart(SHORT, console.log, named.length > 0 ? named : undefined);
  if (SHORT) console.log(part);
  else {
    writeFileSync(TABLE, withClaims(readFileSync(TABLE, 'utf8'), part));
    execFileSync('npx', ['biome', 'check', '--write', TABLE]);
  }
}

function inProcess(job: Job): Promise<Record<Judge, Tally>> {
  return new Promise((resolve, reject) => {
    const child = fork(fileURLToPath(import.meta.url), ['--job', JSON.stringify(job)], { execArgv: process.execArgv });
    child.once('message', (m) => resolve(m as Record<Judge, Tally>));
    child.once('exit', (code) => (code === 0 ? undefined : reject(new Error(`${job.key} ended with ${code}`))));
  });
}

function add(counted: Counted, key: string, part: Record<Judge, Tally>): void {
  const known = counted.get(key) ?? (Object.fromEntries(JUDGES.map((j) => [j, empty()])) as Record<Judge, Tally>);
  for (const judge of JUDGES) for (const k of Object.keys(part[judge]) as (keyof Tally)[]) known[judge][k] += part[judge][k];
  counted.set(key, known);
}

const at = process.argv.indexOf('--job');
if (at > 0) {
  process.send?.(work(JSON.parse(process.argv[at + 1])), () => process.exit(0));
} else await main();
