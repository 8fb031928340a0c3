import { Refusal } from '#app/refusal';
import type { LogOptions } from '#core/signal/logs/types';
import type { ReduceOptions, Reduction } from '#core/signal/reduce/types';
import { reduceValues, type TypedValues } from '#features/run/model/typedRun';
import type { PlacedRun } from '#features/run/store/runs';
import { keptSources, streamReduction } from './streamReduction';

/**
 * A run as it reads under other options: from its kept logs, or from what was typed. Nothing is stored.
 * @throws Refusal where its logs cannot be read so
 */
export async function readAnew(run: PlacedRun, reading: LogOptions, options: Partial<ReduceOptions>): Promise<Reduction> {
  if (run.typed) return reduceValues(run.typed as TypedValues, options);
  const outcome = await streamReduction({ sources: await keptSources(run.id), reading, options, offsets: run.result.clock_offset_s });
  if (!outcome.ok) throw new Refusal(outcome.problem);
  return outcome.reduction;
}
