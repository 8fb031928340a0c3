import { createWriteStream, existsSync } from 'node:fs';
import { mkdir, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { parseArgs } from 'node:util';
import { closeDatabase, database } from '#app/database/pool';
import { seekPrimary } from '#app/database/servers';
import { closeWorkers } from '#app/jobs';
import { plural } from '#core/text/words';
import { resourceName } from '#features/exchange/model/descriptor';
import { writePackage } from '#features/exchange/server/writePackage';
import { renderFiles } from '#features/report/view/published/renderPublished.tsx';
import { SECTION_KEYS } from '#features/shelf/model/sections';
import { exportShelf } from '#features/shelf/server/sheets';
import { listTitles } from '#features/study/store/studies';

const USAGE = `usage: ./warm-gauge package STUDY --to FILE.zip [--no-photographs] [--no-samples]
       ./warm-gauge package --all --to FOLDER [--no-photographs] [--no-samples]

  Writes a study, by its number, as one file that anybody can read and check: tables, logs, samples, photographs, plan, reports. The same study writes
  the same bytes. "./warm-gauge verify FILE.zip" recomputes it without a store.

  With --all every study of the lab goes into a folder, and the shelf beside them as CSV; "./warm-gauge import FOLDER" brings them in.

  Exit 0: the file is there and whole. 2: it could not be written; nothing is left of it.
`;

/** Entry of ./warm-gauge package. */
async function main(): Promise<void> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      to: { type: 'string' },
      all: { type: 'boolean' },
      'no-photographs': { type: 'boolean' },
      'no-samples': { type: 'boolean' },
      help: { type: 'boolean', short: 'h' },
    },
  });
  if (values.help) {
    process.stdout.write(USAGE);
    return;
  }
  if (!values.to) throw new Error('name the file to write: --to study.zip');
  const to = path.resolve(process.env.WARM_GAUGE_FROM ?? '.', values.to);
  const parts = { photographs: !values['no-photographs'], samples: !values['no-samples'] };
  const stop = new AbortController();
  for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => stop.abort(new Error('it was cancelled')));
  await seekPrimary();
  if (values.all) return writeLab(to, parts, stop.signal);
  const [study] = positionals;
  if (positionals.length !== 1 || !/^[1-9]\d{0,14}$/.test(study))
    throw new Error('name one study by its number, as in its address: ./warm-gauge package 3 --to study.zip; or --all');
  await writeStudy(Number(study), to, parts, stop.signal);
  process.stdout.write(`${to} is written.\n`);
}

/** Every study as a package, and the shelf, in a folder of their own. */
async function writeLab(folder: string, parts: Parts, signal: AbortSignal): Promise<void> {
  if (existsSync(folder)) throw new Error(`${folder} is there already; name another, or move it away.`);
  await mkdir(path.join(folder, 'shelf'), { recursive: true });
  const studies = await listTitles(database());
  for (const { id, title } of studies) {
    await writeStudy(id, path.join(folder, `${id}-${resourceName(title).slice(0, 60)}.zip`), parts, signal);
    process.stderr.write(`${title}\n`);
  }
  for (const section of SECTION_KEYS) await writeFile(path.join(folder, 'shelf', `${section}.csv`), await exportShelf(section));
  process.stdout.write(`${plural(studies.length, 'study', 'studies')} and the shelf are in ${folder}.\n`);
}

type Parts = { photographs: boolean; samples: boolean };

async function writeStudy(study: number, file: string, parts: Parts, signal: AbortSignal): Promise<void> {
  if (existsSync(file)) throw new Error(`${file} is there already; name another, or move it away.`);
  let said = Date.now();
  const { stream } = await writePackage(study, {
    ...parts,
    draw: renderFiles,
    onBytes(bytes) {
      if (Date.now() - said < 2000) return;
      said = Date.now();
      process.stderr.write(`${Math.round(bytes / 1e6)} MB so far\n`);
    },
  });
  const part = `${file}.part`;
  try {
    await pipeline(stream, createWriteStream(part), { signal });
    await rename(part, file);
  } catch (error) {
    await rm(part, { force: true });
    throw signal.aborted ? signal.reason : error;
  }
}

main()
  .catch((error: unknown) => {
    process.stderr.write(`The package was not written: ${error instanceof Error ? error.message : String(error)}\n`);
    process.exitCode = 2;
  })
  .then(async () => {
    await closeWorkers();
    await closeDatabase();
  });
