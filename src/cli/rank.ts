import type { Command } from 'commander';
import { setupsAgainstOthers } from '#core/ranking/againstOthers';
import { drawnPredictions } from '#core/ranking/drawnPrediction';
import { againstReference, allPairs, type Ranking, rankMaterials } from '#core/ranking/rankMaterials';
import { readSetupTable } from '#core/ranking/setupTable';
import type { RankedDifference } from '#core/ranking/types';
import { decodeText } from '#core/signal/logs/decode';
import { list, write, writeSigned } from '#core/text/words';
import { number, readBytes, UsageError, whole } from './options';

interface RankFlags {
  json?: boolean;
  reference?: string;
  partMm2?: number;
  power?: number;
  defaultMountSd?: number;
  seed: number;
}

type Drawn = RankedDifference & { prediction95_drawn: [number, number] | null };

export function addRank(program: Command): void {
  program
    .command('rank')
    .description('rank materials over several set-ups')
    .argument('<setups>', 'CSV with the columns setup, material, mean, variance (mm²·K/W), or setup, material, mount, value')
    .option('--json', 'print the result as JSON')
    .option('--reference <NAME>', 'material the others are compared with; default: the first')
    .option('--part-mm2 <A>', 'contact area of a part, for the answer in kelvin', number(1, 100_000))
    .option('--power <W>', 'power of that part', number(0.01, 100_000))
    .option('--default-mount-sd <S>', 'scatter between mounts, mm²·K/W, where a table of mounts does not tell it', number(1e-9, 1e6))
    .option('--seed <N>', 'seed of the drawn prediction intervals', whole(0, 4_294_967_295), 1)
    .action((path: string, flags: RankFlags) => {
      if ((flags.partMm2 === undefined) !== (flags.power === undefined))
        throw new UsageError('The answer for a part needs both --part-mm2 and --power.');
      const rows = readSetupTable(path, decodeText(path, readBytes(path)), flags.defaultMountSd ?? null);
      const reference = flags.reference ?? rows[0].material;
      if (!rows.some((r) => r.material === reference))
        throw new UsageError(`${path} has no material "${reference}"; it has ${list([...new Set(rows.map((r) => r.material))])}.`);
      const ranking = rankMaterials(rows, reference);
      const { tau, df, Q, Q_p, knapp_hartung, apart } = ranking;
      const against = againstReference(ranking);
      // drawn at once: the fits over τ² are what takes long
      const all = drawn(ranking, [...against, ...allPairs(ranking)], flags.seed);
      const against_reference = all.slice(0, against.length);
      const result = {
        ...{ tau, df, Q, Q_p, knapp_hartung, reference, against_reference },
        pairs: all.slice(against.length),
        each_setup_against_the_others: setupsAgainstOthers(ranking.design.rows),
        not_connected: apart,
        ...(flags.partMm2 && flags.power ? { for_part: forPart(against_reference, flags.partMm2, flags.power) } : {}),
      };
      process.stdout.write(flags.json ? `${JSON.stringify(result)}\n` : `${describe(result).join('\n')}\n`);
    });
}

function drawn(ranking: Ranking, differences: RankedDifference[], seed: number): Drawn[] {
  const intervals = drawnPredictions(
    ranking,
    differences.map((d) => [d.a, d.b]),
    seed,
  );
  return differences.map((d, i) => ({ ...d, prediction95_drawn: intervals[i] }));
}

/** ΔT = P·Δr/A for a part that was not measured, with the interval for a set-up that was not either. */
function forPart(against: Drawn[], area_mm2: number, power_w: number) {
  const kelvin = (r: number) => (power_w * r) / area_mm2;
  return against.map((d) => ({
    ...{ a: d.a, b: d.b, delta_k: kelvin(d.difference) },
    prediction95: d.prediction95_drawn && (d.prediction95_drawn.map(kelvin) as [number, number]),
  }));
}

function describe(result: {
  reference: string;
  tau: number | null;
  against_reference: Drawn[];
  not_connected: string[];
  for_part?: ReturnType<typeof forPart>;
}): string[] {
  const { against_reference, tau, reference, not_connected, for_part } = result;
  const ordered = [...against_reference].sort((a, b) => a.difference - b.difference);
  const interval = ([low, high]: [number, number], digits: number) => `${write(low, digits)} to ${write(high, digits)}`;
  return [
    ...(tau === null ? ['Fewer set-ups than it takes to tell how much a lead differs between them: no prediction is made.'] : []),
    ...ordered.map(
      (d) =>
        `${d.a} against ${reference}: ${writeSigned(d.difference, 1)} mm²·K/W (95 % ${interval(d.ci95, 1)}${d.prediction95_drawn ? `; in another set-up ${interval(d.prediction95_drawn, 1)}` : ''})${d.shared_setups === 0 ? ', only through others' : ''}`,
    ),
    ...(for_part ?? []).map(
      (p) =>
        `${p.a} would run ${writeSigned(p.delta_k, 1)} K against ${reference}${p.prediction95 ? `, ${interval(p.prediction95, 1)} in a set-up like these` : ''}. A bare die and a lid differ.`,
    ),
    ...(not_connected.length > 0 ? [`Not connected to ${reference} by any set-up: ${list(not_connected)}.`] : []),
  ];
}
