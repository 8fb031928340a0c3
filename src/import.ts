import { createReadStream } from 'node:fs';
import { readdir, stat } from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { backUpBefore } from '#app/backup/backUpBefore';
import { migrate } from '#app/database/migrate';
import { closeDatabase } from '#app/database/pool';
import { seekPrimary, storeUrl } from '#app/database/servers';
import { closeWorkers } from '#app/jobs';
import { plural } from '#core/text/words';
import { WAYS, type Way } from '#features/exchange/model/arrival';
import { importPackage, packageHash, packageProblem } from '#features/exchange/server/importPackage';
import { openPackage } from '#features/exchange/server/openPackage';
import { previewPackage } from '#features/exchange/server/previewPackage';

const USAGE = `usage: ./warm-gauge import FILE.zip|FOLDER [--same mine|theirs|both] [--own] [--look]

  Brings the study of a package in, all of it or nothing. Every run is read anew from its logs and every verdict computed anew; where that
  differs from what the package says, one line each tells both values, and the study keeps the list.

  Of a folder every package is brought in, each by itself.

  --same   for sheets that go by the name of one that is here: use mine, take theirs over mine, or keep both. Without it materials, coolers and
           fans of one name are the same product and mine is used; rigs and instruments that differ are kept beside mine.
  --own    the study was measured by this lab on another machine: its scatter counts as the lab's own
  --look   only tell what would come in

  Exit 0: it is in, and all agrees. 1: it is in, and something differs. 2: nothing was stored.
`;

/** Entry of ./warm-gauge import. */
async function main(): Promise<number> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      same: { type: 'string' },
      own: { type: 'boolean' },
      look: { type: 'boolean' },
      help: { type: 'boolean', short: 'h' },
    },
  });
  if (values.help) {
    process.stdout.write(USAGE);
    return 0;
  }
  if (positionals.length !== 1) throw new Error('name one package: ./warm-gauge import study.zip');
  const { same } = values;
  if (same !== undefined && !Object.hasOwn(WAYS, same)) throw new Error('--same takes mine, theirs or both.');
  const place = path.resolve(process.env.WARM_GAUGE_FROM ?? '.', positionals[0]);
  const isFolder = await stat(place).then(
    (s) => s.isDirectory(),
    () => false,
  );
  await seekPrimary();
  await bringUpToDate();
  const stop = new AbortController();
  for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => stop.abort(new Error('it was cancelled')));
  const how: How = { own: values.own, look: values.look === true, same: same as Way | undefined, signal: stop.signal };
  if (!isFolder) return bring(place, how);
  const files = (await readdir(place)).filter((n) => n.endsWith('.zip')).sort((a, b) => a.localeCompare(b, 'en', { numeric: true }));
  if (files.length === 0) throw new Error(`there is no package in ${place}.`);
  let worst = 0;
  for (const name of files) {
    if (stop.signal.aborted) throw stop.signal.reason;
    worst = Math.max(worst, await bring(path.join(place, name), how).catch(tell));
  }
  return worst;
}

interface How {
  own: boolean | undefined;
  look: boolean;
  same: Way | undefined;
  signal: AbortSignal;
}

/** Brings one package in; gives the exit status. */
async function bring(file: string, { own, look, same, signal }: How): Promise<number> {
  const opened = await openPackage(file);
  try {
    const preview = await previewPackage(opened);
    if (preview.problems.length > 0) throw new Error(`${path.basename(file)}: ${preview.problems.join(' ')}`);
    for (const line of tellPreview(preview)) process.stdout.write(`${line}\n`);
    if (look) return 0;
    let said = Date.now();
    const { study_id, title, differences, unchecked } = await importPackage(opened, {
      choices: {
        own: own ?? preview.own,
        sheets: same ? Object.fromEntries(preview.sheets.filter((s) => s.mine).map((s) => [s.key, same])) : {},
      },
      sha256: await packageHash(createReadStream(file)),
      signal,
      say(done, total) {
        if (Date.now() - said < 2000) return;
        said = Date.now();
        process.stderr.write(`Runs: ${done} of ${total}\n`);
      },
    });
    for (const line of differences) process.stdout.write(`${line}\n`);
    for (const line of unchecked) process.stdout.write(`Not checked: ${line}\n`);
    process.stdout.write(`${JSON.stringify(title)} is study ${study_id} now. `);
    process.stdout.write(differences.length === 0 ? 'All agrees.\n' : `${plural(differences.length, 'difference')}.\n`);
    return differences.length === 0 ? 0 : 1;
  } finally {
    opened.close();
  }
}

function tell(error: unknown): number {
  process.stderr.write(`Nothing was imported: ${packageProblem(error) ?? (error instanceof Error ? error.message : String(error))}\n`);
  return 2;
}

/** A store may be new, or of an older version: it is brought to this one as at a start. */
async function bringUpToDate(): Promise<void> {
  const backups = process.env.WARM_GAUGE_BACKUPS ?? path.resolve(process.env.WARM_GAUGE_DATA ?? '.data', 'backups');
  await migrate(storeUrl(), { before: backUpBefore(storeUrl(), backups, (sentence) => process.stderr.write(`${sentence}\n`)) });
}

function tellPreview({ title, titled, lab, counts, sheets }: Awaited<ReturnType<typeof previewPackage>>): string[] {
  const things = [
    plural(counts.specimens, 'specimen'),
    plural(counts.mounts, 'mount'),
    plural(counts.runs, 'run'),
    plural(counts.photographs, 'photograph'),
  ];
  return [
    `${JSON.stringify(title)}${lab ? ` of ${lab}` : ''}: ${things.join(', ')}.`,
    ...(titled === title ? [] : [`Another study has this title; it comes as ${JSON.stringify(titled)}.`]),
    ...sheets.flatMap((s) =>
      s.mine
        ? [`${s.name} (${s.section}) is here already${s.mine.differs.length > 0 ? `; they differ in ${s.mine.differs.join(', ')}` : ''}.`]
        : [],
    ),
  ];
}

main()
  .catch(tell)
  .then(async (status) => {
    process.exitCode = status;
    await closeWorkers();
    await closeDatabase();
  });
