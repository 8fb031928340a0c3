import type { Command } from 'commander';
import { analyse } from '#core/compare/analyse';
import { readRunTable } from '#core/compare/runTable';
import type { AnalysisOptions, BlockBy } from '#core/compare/types';
import { decodeText } from '#core/signal/logs/decode';
import { number, oneOf, readBytes } from './options';

interface AnalyseFlags {
  json?: boolean;
  reference?: string;
  margin?: number;
  confidence?: number;
  scatter?: AnalysisOptions['scatter'];
  family?: 'all' | 'reference';
  load?: string;
  block?: BlockBy;
  outcome: 'rise' | 'r_k_per_w';
  defaultMountSd?: number;
}

export function addAnalyse(program: Command): void {
  program
    .command('analyse')
    .description('compare specimens from a table of runs')
    .argument(
      '<runs>',
      'CSV with the columns specimen, mount, value and optionally run, day, rig, device, load, valid, excluded, reason, at_least, r_k_per_w, r_valid',
    )
    .option('--json', 'print the result as JSON')
    .option('--reference <NAME>', 'specimen the others are compared with')
    .option('--margin <K>', 'smallest difference that matters', number(1e-9, 1000))
    .option('--confidence <SHARE>', 'confidence of the intervals', number(0.5, 0.9999))
    .option(
      '--scatter <method>',
      'pooled, separate, strict, measured or auto',
      oneOf(['pooled', 'separate', 'strict', 'measured', 'auto'] as const),
    )
    .option('--family <family>', 'all or reference', oneOf(['all', 'reference'] as const))
    .option('--load <NAME>', 'load that is compared, where the table names several; default: the first')
    .option('--block <what>', 'day, rig or rig-day', oneOf(['day', 'rig', 'rig-day'] as const))
    .option('--outcome <outcome>', 'rise or r_k_per_w', oneOf(['rise', 'r_k_per_w'] as const), 'rise')
    .option('--default-mount-sd <K>', 'scatter between mounts assumed for specimens with one mount', number(1e-9, 100))
    .action((path: string, flags: AnalyseFlags) => {
      const table = readRunTable(path, decodeText(path, readBytes(path)), flags.outcome, flags);
      const { load: _, ...choices } = table.choices;
      // what is asked for here goes before what the table carries, and that before the defaults
      const asked = {
        ...{ margin: flags.margin, confidence: flags.confidence, scatter: flags.scatter, family: flags.family, block: flags.block },
        ...{ reference: flags.reference, default_mount_sd: flags.defaultMountSd },
      };
      const result = analyse(table.rows, {
        margin: table.default_margin,
        outcome: flags.outcome,
        ...withoutUndefined(choices),
        ...withoutUndefined(asked),
      });
      process.stdout.write(
        flags.json
          ? `${JSON.stringify(result)}\n`
          : `${[...result.sentences, ...result.findings.map((f) => `${f.severity}: ${f.message}`)].join('\n')}\n`,
      );
    });
}

const withoutUndefined = <T extends object>(given: T): Partial<T> =>
  Object.fromEntries(Object.entries(given).filter(([, v]) => v !== undefined)) as Partial<T>;
