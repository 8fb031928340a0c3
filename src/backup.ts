import { existsSync } from 'node:fs';
import path from 'node:path';
import { makeBackup } from '#app/backup/makeBackup';
import { contentsWords } from '#app/backup/storeContents';
import { seekPrimary, storeUrl } from '#app/database/servers';

const USAGE = `usage: ./warm-gauge backup FILE.zip

  Writes the whole store into one file, while the application runs or not: all that was stored when it began. Keep it like the store: it holds
  everything, also the keys of instruments that push.

  Exit 0: the file is there and whole. 2: it could not be written; nothing is left of it.
`;

/** Entry of ./warm-gauge backup. */
async function main(): Promise<void> {
  const given = process.argv.slice(2);
  if (given.includes('--help') || given.includes('-h')) {
    process.stdout.write(USAGE);
    return;
  }
  const option = given.find((o) => o.startsWith('-'));
  if (option) throw new Error(`backup has no option ${option}.`);
  if (given.length !== 1) throw new Error('name one file to write, such as: ./warm-gauge backup lab.zip');
  const file = path.resolve(process.env.WARM_GAUGE_FROM ?? '.', given[0]);
  if (existsSync(file)) throw new Error(`${file} is there already; name another, or move it away.`);
  await seekPrimary();
  let said = 0;
  const stop = new AbortController();
  for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => stop.abort());
  const about = await makeBackup(storeUrl(), file, {
    signal: stop.signal,
    onBytes(bytes) {
      if (Date.now() - said < 2000) return;
      said = Date.now();
      process.stderr.write(`${Math.round(bytes / 1e6)} MB so far\n`);
    },
  });
  process.stdout.write(`${file} holds ${contentsWords(about.contents)}, as they were at ${about.made_at}.\n`);
}

main().catch((error: unknown) => {
  process.stderr.write(`The backup was not made: ${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = 2;
});
