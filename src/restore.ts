import path from 'node:path';
import { type Backup, checkDump, openBackup } from '#app/backup/backupFile';
import { beforeName } from '#app/backup/keptBackups';
import { makeBackup } from '#app/backup/makeBackup';
import { lookAtStore, restoreBackup } from '#app/backup/restoreBackup';
import { contentsWords, isEmpty, type StoreContents } from '#app/backup/storeContents';
import { migrate } from '#app/database/migrate';
import { unknownAmong, unknownMigrations } from '#app/database/migrationNames';
import { seekPrimary, storeUrl } from '#app/database/servers';

const USAGE = `usage: ./warm-gauge restore FILE.zip [--replace]

  Puts a backup into the store: into an empty one, or with --replace in the place of all that is there. What is there and what is coming is shown
  first, and with --replace a backup of what is there is made before. All or nothing: where anything goes wrong, the store stays as it was.
  Stop the application first. Restore only files that you trust: a backup can make its store do anything.

  Exit 0: restored. 1: there is something in the store, and --replace was not given; nothing was changed. 2: it could not be restored.
`;

/** Entry of ./warm-gauge restore. */
async function main(): Promise<number> {
  const given = process.argv.slice(2);
  if (given.includes('--help') || given.includes('-h')) {
    process.stdout.write(USAGE);
    return 0;
  }
  const unknown = given.find((o) => o.startsWith('-') && o !== '--replace');
  if (unknown) throw new Error(`restore has no option ${unknown}; it takes --replace.`);
  const files = given.filter((o) => !o.startsWith('-'));
  if (files.length !== 1) throw new Error('name one backup, such as: ./warm-gauge restore lab.zip');
  const backup = await openBackup(path.resolve(process.env.WARM_GAUGE_FROM ?? '.', files[0]));
  try {
    return await restore(backup, given.includes('--replace'));
  } finally {
    backup.close();
  }
}

async function restore(backup: Backup, mayReplace: boolean): Promise<number> {
  const { about } = backup;
  const say = (line: string) => process.stdout.write(`${line}\n`);
  const [newer] = unknownAmong(about.migrations);
  if (newer) throw new Error(`a newer version of Warm Gauge made this backup (${newer}); restore it with that one.`);
  await seekPrimary();
  const url = storeUrl();
  const { contents, server, others } = await lookAtStore(url);
  say(`In the store:  ${side(contents)}`);
  say(`In the backup: ${side(about.contents)}; made at ${about.made_at}`);
  if (others > 0)
    throw new Error(
      `${others === 1 ? 'another program is' : `${others} other programs are`} connected to the store. Stop Warm Gauge and what else uses it, then restore.`,
    );
  const [theirs] = await unknownMigrations(url);
  if (theirs) throw new Error(`a newer version of Warm Gauge made what is in the store (${theirs}); replace it with that one.`);
  if (!isEmpty(contents) && !mayReplace) {
    say('Nothing was changed. To put the backup in the place of what is in the store, add --replace.');
    return 1;
  }
  await checkDump(backup);
  const folder = process.env.WARM_GAUGE_BACKUPS ?? path.resolve(process.env.WARM_GAUGE_DATA ?? '.data', 'backups');
  if (!isEmpty(contents)) {
    const file = path.join(folder, beforeName('restore', new Date()));
    await makeBackup(url, file);
    say(`What was in the store is kept in ${file}`);
  }
  await restoreBackup(url, backup, server);
  const brought = await migrate(url);
  say(`Restored${brought.length > 0 ? ' and brought to this version' : ''}. "./warm-gauge check" reads everything once.`);
  return 0;
}

const side = (contents: StoreContents): string =>
  `${contentsWords(contents)}${contents.newest_run ? `; newest run stored at ${contents.newest_run}` : ''}`;

main()
  .catch((error: unknown) => {
    process.stderr.write(`The backup was not restored: ${error instanceof Error ? error.message : String(error)}\n`);
    return 2;
  })
  .then((status) => {
    process.exitCode = status;
  });
