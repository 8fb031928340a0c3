/**
 * The ranking of 400 materials over 200 set-ups: fit and intervals, the shown prediction intervals, each set-up against the others, all on one
 * core, and the same model by metafor on the same rows in the same run, where R is there.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { setupsAgainstOthers } from '#core/ranking/againstOthers';
import { drawnPredictions } from '#core/ranking/drawnPrediction';
import { againstReference, rankMaterials } from '#core/ranking/rankMaterials';
import type { RankingRow } from '#core/ranking/types';
import { seededRandom } from '#core/stats/random';
import { writeTable } from './tables';
import { noteTarget } from './targets';

const SETUPS = 200;
const MATERIALS = 400;
const R_PATIENCE_MS = 900_000;

/** The reference and seven others in every set-up; of the first fifty eight more, so that every material is somewhere. */
function drawnRows(): RankingRow[] {
  const random = seededRandom(3);
  const rows: RankingRow[] = [];
  for (let s = 0; s < SETUPS; s++) {
    const level = 20 + random.normal();
    const own = new Set([0]);
    while (own.size < 8) own.add(Math.floor(random.uniform() * MATERIALS));
    if (s < MATERIALS / 8) for (let k = 0; k < 8; k++) own.add(8 * s + k);
    for (const m of own)
      rows.push({
        setup: `s${s}`,
        material: `m${m}`,
        mean: level + m / 100 + 0.5 * random.normal(),
        variance: 0.05 + 0.1 * random.uniform(),
      });
  }
  return rows;
}

const timed = <T>(work: () => T): [T, number] => {
  const began = performance.now();
  const done = work();
  return [done, (performance.now() - began) / 1000];
};

/** Seconds of metafor for the same fit, and its τ; null where R or the package is not there, or it takes too long. */
function byMetafor(rows: RankingRow[]): { seconds: number; tau: number } | null {
  const folder = mkdtempSync(path.join(tmpdir(), 'ranking-'));
  const file = path.join(folder, 'rows.csv');
  writeFileSync(file, ['setup,material,mean,variance', ...rows.map((r) => [r.setup, r.material, r.mean, r.variance].join())].join('\n'));
  const { status, stdout } = spawnSync('Rscript', ['benchmarks/ranking.R', file], { encoding: 'utf8', timeout: R_PATIENCE_MS });
  rmSync(folder, { recursive: true });
  const [seconds, tau] = (stdout ?? '').trim().split(' ').map(Number);
  return status === 0 && Number.isFinite(seconds) ? { seconds, tau } : null;
}

const rows = drawnRows();
// once before, so that what is compiled on the way does not count
rankMaterials(rows, 'm0');
const [[ranking, told], fit_s] = timed(() => {
  const ranking = rankMaterials(rows, 'm0');
  return [ranking, againstReference(ranking)] as const;
});
const [, shown_s] = timed(() =>
  drawnPredictions(
    ranking,
    told.map((d) => [d.a, d.b]),
  ),
);
const [, others_s] = timed(() => setupsAgainstOthers(rows));
console.log(
  `${rows.length} rows: fit and intervals ${fit_s.toFixed(2)} s, shown intervals ${shown_s.toFixed(2)} s, others ${others_s.toFixed(1)} s`,
);
const metafor = byMetafor(rows);
const ratio = metafor && fit_s / metafor.seconds;
if (metafor) {
  const apart = Math.abs((ranking.tau ?? 0) - metafor.tau);
  console.log(
    `metafor: ${metafor.seconds.toFixed(2)} s, τ ${metafor.tau} (ours ${ranking.tau}, ${apart.toExponential(1)} apart); ratio ${ratio?.toFixed(4)}`,
  );
  if (apart > 1e-5) throw new Error('The two fits differ.');
} else console.log('R or metafor is not there, or took too long: no ratio.');

noteTarget('ranking_fit', `${fit_s.toFixed(2)} s`, fit_s);
noteTarget('ranking_others', `${others_s.toFixed(0)} s`, others_s / 180);
if (ratio !== null) noteTarget('ranking_metafor', `${ratio.toFixed(3)} of its time`, ratio);
writeTable(
  'docs/speed.md',
  'ranking',
  [
    '| 400 materials over 200 set-ups | seconds |',
    '| --- | ---: |',
    `| Fit and 95 % intervals, ${rows.length} rows | ${fit_s.toFixed(2)} |`,
    `| Shown prediction intervals of all against the reference | ${shown_s.toFixed(2)} |`,
    `| Each set-up against all the others | ${others_s.toFixed(1)} |`,
    `| The same fit by metafor in the same run | ${metafor ? metafor.seconds.toFixed(1) : 'not there'} |`,
  ].join('\n'),
);
