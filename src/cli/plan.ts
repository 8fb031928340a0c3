import type { Command } from 'commander';
import { notBuilt } from './options';

export function addPlan(program: Command): void {
  program
    .command('plan')
    .description('mounts needed, detectable difference, order of the days (not built yet)')
    .allowUnknownOption()
    .allowExcessArguments()
    .action(() => notBuilt('plan'));
}
