import type { Command } from 'commander';
import { analyse } from '#core/compare/analyse';
import { readRunTable } from '#core/compare/runTable';
import type { AnalysisOptions, BlockBy } from '#core/compare/types';
import { decodeText } from '#core/logs/decode';
import { number, oneOf, readBytes } from './options';

interface AnalyseFlags {
  json?: boolean;
  reference?: string;
  margin?: number;
  confidence: number;
  scatter: AnalysisOptions['scatter'];
  family: 'all' | 'reference';
  block?: BlockBy;
  outcome: 'rise' | 'r_k_per_w';
  defaultMountSd?: number;
}

export function addAnalyse(program: Command): void {
  program
    .command('analyse')
    .description('compare specimens from a table of runs')
    .argument('<runs>', 'CSV with the columns specimen, mount, value and optionally run, day, rig, valid, excluded, reason, r_k_per_w, r_valid')
    .option('--json', 'print the result as JSON')
    .option('--reference <NAME>', 'specimen the others are held against')
    .option('--margin <K>', 'smallest difference that matters', number(1e-9, 1000))
    .option('--confidence <SHARE>', 'confidence of the intervals', number(0.5, 0.9999), 0.95)
    .option('--scatter <school>', 'pooled, separate or auto', oneOf(['pooled', 'separate', 'auto'] as const), 'auto')
    .option('--family <family>', 'all or reference', oneOf(['all', 'reference'] as const), 'all')
    .option('--block <what>', 'day, rig or rig-day', oneOf(['day', 'rig', 'rig-day'] as const))
    .option('--outcome <outcome>', 'rise or r_k_per_w', oneOf(['rise', 'r_k_per_w'] as const), 'rise')
    .option('--default-mount-sd <K>', 'scatter between mounts assumed for specimens with one mount', number(1e-9, 100))
    .action((path: string, flags: AnalyseFlags) => {
      const table = readRunTable(path, decodeText(path, readBytes(path)), flags.outcome, flags.block ?? null);
      const result = analyse(table.rows, {
        margin: flags.margin ?? table.default_margin,
        confidence: flags.confidence,
        scatter: flags.scatter,
        family: flags.family,
        outcome: flags.outcome,
        block: flags.block ?? null,
        ...(flags.reference === undefined ? {} : { reference: flags.reference }),
        ...(flags.defaultMountSd === undefined ? {} : { default_mount_sd: flags.defaultMountSd }),
      });
      process.stdout.write(
        flags.json ? `${JSON.stringify(result)}\n` : `${[...result.sentences, ...result.findings.map((f) => `${f.severity}: ${f.message}`)].join('\n')}\n`,
      );
    });
}
