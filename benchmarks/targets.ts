import { readFileSync } from 'node:fs';
import { writeTable } from './tables';

const FILE = 'docs/speed.md';
const MARK = 'targets';

/** What is promised, in the order of the table. Each benchmark notes those it measures. */
const TARGETS = {
  import: ['Import of 1,000,000 rows × 12 channels, against COPY of the same bytes', 'at least 40 % of its rate'],
  import_memory: ['Memory while it is imported, above idle', 'under 300 MB'],
  imports_memory: ['Memory after 20 such imports, above idle', 'within 100 MB'],
  package_rate: ['Package of such a run without samples, against zip of the same bytes', 'told'],
  package_memory: ['Memory while it is written or brought in, above idle', 'under 300 MB'],
  first_drawing: ['First drawing of that run', 'from at most 150 kB'],
  trace: ['A span of it, from the server, median', 'under 150 ms'],
  zoom: ['A zoom, drawn anew in the browser, median', 'no visible stall (100 ms)'],
  compare: ['Comparison of 40 specimens × 10 mounts × 3 runs, all methods and pairs', 'under 250 ms'],
  rehearse: ['2,000 plans of 8 × 5 rehearsed on one core', 'under 10 s'],
  live_stored: ['Live, 4 runs × 24 channels × 10 Hz: acknowledged and not stored', 'none'],
  live_shown: ['Live: from sending to the page, median', 'under 500 ms'],
  start: ['First start on an empty folder: a page is there', 'within 5 s'],
  demo: ['The demo is loaded behind it', 'within 30 s'],
  second_start: ['Second start: a page is there', 'within 5 s'],
  scripts: ['Scripts of the largest place, as sent', 'under 250 kB'],
  workers: ['Scripts of all workers, as sent', 'under 150 kB'],
  bench: ['Bench in a lab of five years, median', 'under 150 ms, 1.5 × the demo'],
  studies: ['Studies in it', 'under 150 ms, 1.5 × the demo'],
  shelf: ['Materials in it', 'under 150 ms, 1.5 × the demo'],
  stack: ['Stack tool in it', '1.5 × the demo'],
  results: ['Results in it', 'under 250 ms'],
  places: ['Places of it that take over 1.5 × the demo', 'none'],
  statics: ['A static file while a hundred read results of it, slowest of 95 in 100', 'within 50 ms'],
  readers_results: ['100 readers of its results at once, 95 %', 'under 1 s, no error'],
  readers_report: ['100 readers of a report at once, 95 %', 'under 1 s, no error'],
  change: ['Outcome, method or pairs changed in results of 8 × 5, until drawn', 'within 100 ms'],
  change_large: ['The same in results of 40 × 10 × 3', 'within 100 ms'],
  ranking_fit: ['Ranking of 400 materials over 200 set-ups: fit and intervals', 'under 1 s'],
  ranking_others: ['Each set-up of it against all the others', 'under 3 min'],
  ranking_metafor: ['The same fit by metafor in the same run', 'faster than it'],
  ranking_page: ['Ranking in a lab of five years, from kept answers', 'under 250 ms'],
  long_task: ['Longest task of a page meanwhile, 8 × 5', 'under 100 ms'],
  long_task_large: ['Longest task meanwhile, 40 × 10 × 3', 'under 100 ms'],
} as const;

export type TargetKey = keyof typeof TARGETS;

const HEAD = ['| Work | target | measured | of what is allowed |', '| --- | --- | ---: | ---: |'];

/**
 * Notes what was measured of a target: it stands in the table of docs/speed.md from now on.
 * @param measured with its unit
 * @param share of what is allowed; over 1 the target is missed
 */
export function noteTarget(key: TargetKey, measured: string, share: number): void {
  const known = new Map(
    readFileSync(FILE, 'utf8')
      .split('\n')
      .filter((l) => l.startsWith('| '))
      .map((l) => [l.split('|')[1].trim(), l]),
  );
  const [work, target] = TARGETS[key];
  known.set(work, `| ${work} | ${target} | ${measured} | ${share.toFixed(2)}${share > 1 ? ' (missed)' : ''} |`);
  const rows = Object.values(TARGETS).map(([name, allowed]) => known.get(name) ?? `| ${name} | ${allowed} | not measured | |`);
  writeTable(FILE, MARK, [...HEAD, ...rows].join('\n'));
  console.log(`  ${work}: ${measured}; ${target} (${share.toFixed(2)} of what is allowed)`);
}
