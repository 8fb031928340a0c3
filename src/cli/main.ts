import { Command, CommanderError } from 'commander';
import { LogError } from '#core/signal/logs/types';
import { addAnalyse } from './analyse';
import { addPlan } from './plan';
import { addRank } from './rank';
import { addReduce } from './reduce';
import { addSim } from './sim';

/** Options that answer what a file asks. */
const HINTS = { day_order: '(--day-first or --month-first)', clock_offset: '(--offset FILE=S)' };

/** Headless commands over the core: no browser, no database. Exit 0 done, 1 done but not valid, 2 refused in one line. */
async function main(): Promise<void> {
  const program = new Command('warm-gauge')
    .description('Headless commands of Warm Gauge. ./warm-gauge demo and ./warm-gauge start run the application.')
    .exitOverride()
    .configureOutput({
      writeErr: (text) => process.stderr.write(text.startsWith('error:') ? `${text.replace(/\s*\n\s*/g, ' ').trim()}\n` : text),
    });
  addReduce(program);
  addAnalyse(program);
  addPlan(program);
  addRank(program);
  addSim(program);
  try {
    await program.parseAsync();
  } catch (error) {
    process.exitCode = 2;
    if (error instanceof CommanderError) {
      if (error.code === 'commander.helpDisplayed' || error.code === 'commander.help') process.exitCode = error.exitCode;
      return;
    }
    const text = error instanceof Error ? error.message : String(error);
    const hint = error instanceof LogError && error.asks ? ` ${HINTS[error.asks]}` : '';
    process.stderr.write(`${text.replace(/\s*\n\s*/g, ' ')}${hint}\n`);
  }
}

await main();
