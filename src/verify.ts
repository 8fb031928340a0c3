import path from 'node:path';
import { parseArgs } from 'node:util';
import { plural } from '#core/text/words';
import { openPackage } from '#features/exchange/server/openPackage';
import { verifyPackage } from '#features/exchange/server/verifyPackage';

const USAGE = `usage: ./warm-gauge verify FILE.zip

  Reads every value of a package anew from its logs and every verdict from the values, compares them with what the package says, and checks
  every hash. It needs no store and no network.

  Exit 0: all agrees. 1: something differs; one line each, with both values. 2: the file cannot be read as a package.
`;

/** Entry of ./warm-gauge verify. */
async function main(): Promise<number> {
  const { values, positionals } = parseArgs({ allowPositionals: true, options: { help: { type: 'boolean', short: 'h' } } });
  if (values.help) {
    process.stdout.write(USAGE);
    return 0;
  }
  if (positionals.length !== 1) throw new Error('name one package: ./warm-gauge verify study.zip');
  const opened = await openPackage(path.resolve(process.env.WARM_GAUGE_FROM ?? '.', positionals[0]));
  let said = Date.now();
  try {
    const { differences, unchecked, runs, pairs } = await verifyPackage(opened, (done, total) => {
      if (Date.now() - said < 2000) return;
      said = Date.now();
      process.stderr.write(`Runs: ${done} of ${total}\n`);
    });
    for (const line of differences) process.stdout.write(`${line}\n`);
    for (const line of unchecked) process.stdout.write(`Not checked: ${line}\n`);
    process.stdout.write(`Recomputed ${plural(runs, 'run')} and ${plural(pairs, 'pair')} of ${JSON.stringify(opened.descriptor.title)}.\n`);
    process.stdout.write(differences.length === 0 ? 'All agrees.\n' : `${plural(differences.length, 'difference')}.\n`);
    return differences.length === 0 ? 0 : 1;
  } finally {
    opened.close();
  }
}

main()
  .catch((error: unknown) => {
    process.stderr.write(`The package was not verified: ${error instanceof Error ? error.message : String(error)}\n`);
    return 2;
  })
  .then((status) => {
    process.exitCode = status;
  });
