import { createWriteStream, existsSync } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { parseArgs } from 'node:util';
import { closeDatabase } from '#app/database/pool';
import { seekPrimary } from '#app/database/servers';
import { closeWorkers } from '#app/jobs';
import { writePackage } from '#features/exchange/server/writePackage';
import { renderFiles } from '#features/report/view/published/renderPublished.tsx';

const USAGE = `usage: ./warm-gauge package STUDY --to FILE.zip [--no-photographs] [--no-samples]

  Writes a study, by its number, as one file that anybody can read and check: tables, logs, samples, photographs, plan, reports. The same study writes
  the same bytes. "./warm-gauge verify FILE.zip" recomputes it without a store.

  Exit 0: the file is there and whole. 2: it could not be written; nothing is left of it.
`;

/** Entry of ./warm-gauge package. */
async function main(): Promise<void> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      to: { type: 'string' },
      'no-photographs': { type: 'boolean' },
      'no-samples': { type: 'boolean' },
      help: { type: 'boolean', short: 'h' },
    },
  });
  if (values.help) {
    process.stdout.write(USAGE);
    return;
  }
  const [study] = positionals;
  if (positionals.length !== 1 || !/^[1-9]\d{0,14}$/.test(study))
    throw new Error('name one study by its number, as in its address: ./warm-gauge package 3 --to study.zip');
  if (!values.to) throw new Error('name the file to write: --to study.zip');
  const file = path.resolve(process.env.WARM_GAUGE_FROM ?? '.', values.to);
  if (existsSync(file)) throw new Error(`${file} is there already; name another, or move it away.`);
  await seekPrimary();
  let said = Date.now();
  const { stream } = await writePackage(Number(study), {
    photographs: !values['no-photographs'],
    samples: !values['no-samples'],
    draw: renderFiles,
    onBytes(bytes) {
      if (Date.now() - said < 2000) return;
      said = Date.now();
      process.stderr.write(`${Math.round(bytes / 1e6)} MB so far\n`);
    },
  });
  const part = `${file}.part`;
  const stop = new AbortController();
  for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => stop.abort(new Error('it was cancelled')));
  try {
    await pipeline(stream, createWriteStream(part), { signal: stop.signal });
    await rename(part, file);
  } catch (error) {
    await rm(part, { force: true });
    throw stop.signal.aborted ? stop.signal.reason : error;
  }
  process.stdout.write(`${file} is written.\n`);
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
