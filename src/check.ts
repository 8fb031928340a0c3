import { pendingMigrations, unknownMigrations } from '#app/database/migrationNames';
import { closeDatabase } from '#app/database/pool';
import { seekPrimary, storeUrl } from '#app/database/servers';
import { closeWorkers } from '#app/jobs';
import { checkStore } from '#features/bench/server/checkStore';

const USAGE = `usage: ./warm-gauge check [--quick]

  Reads everything in the store, while the application runs or not: logs, photographs, clips and reports against their checksums, figures of
  runs against their readings, and every run anew from its files. Nothing is changed.

  --quick   leaves out reading every run anew, which takes about a second for every two runs

  Exit 0: all agrees. 1: something does not, and is listed. 2: the store could not be read.
`;

/** Entry of ./warm-gauge check. */
async function main(): Promise<number> {
  const given = process.argv.slice(2);
  if (given.includes('--help') || given.includes('-h')) {
    process.stdout.write(USAGE);
    return 0;
  }
  const unknown = given.find((o) => o !== '--quick');
  if (unknown !== undefined) throw new Error(`check has no option ${unknown}; it takes --quick.`);
  await seekPrimary();
  const url = storeUrl();
  if ((await unknownMigrations(url)).length > 0) throw new Error('a newer version of Warm Gauge made it; check it with that one.');
  const older = await pendingMigrations(url);
  if (older === null || older.length > 0)
    throw new Error('an older version of Warm Gauge left it; start the application once, which brings it up to date.');
  let last = 0;
  const { looked, wrong, page_checksums } = await checkStore({
    quick: given.includes('--quick'),
    say(what, done, total) {
      if (Date.now() - last < 2000) return;
      last = Date.now();
      process.stderr.write(`${what}: ${done} of ${total}\n`);
    },
  });
  for (const { thing, wrong: what } of wrong) process.stdout.write(`${thing}: ${what}\n`);
  process.stdout.write(`Looked at ${looked.map(({ name, count }) => (count === null ? name : `${count} ${name}`)).join(', ')}.\n`);
  if (!page_checksums)
    process.stdout.write('This store does not sum its own pages (data_checksums is off): a disk that forgets is noticed later.\n');
  process.stdout.write(
    wrong.length === 0 ? 'All agrees.\n' : `${wrong.length} ${wrong.length === 1 ? 'thing does' : 'things do'} not agree.\n`,
  );
  return wrong.length === 0 ? 0 : 1;
}

main()
  .catch((error: unknown) => {
    process.stderr.write(`The store could not be checked: ${error instanceof Error ? error.message : String(error)}\n`);
    return 2;
  })
  .then(async (status) => {
    process.exitCode = status;
    await closeWorkers();
    await closeDatabase();
  });
