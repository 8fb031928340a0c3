import type { ReduceOptions } from '#core/reduce/types';
import type { Client } from '#db/pool';
import { listReferenceLevels } from '#db/runs';
import type { StudyRow } from '#db/studies';
import { planReduction } from '#domain/plan/reduction';

/** How the runs of studies are reduced, by study: what the plan says, and over it what the study itself sets. */
export async function studyReductions(db: Client, studies: StudyRow[]): Promise<Map<number, Partial<ReduceOptions>>> {
  const levels = await listReferenceLevels(db, studies.length === 1 ? studies[0].id : undefined);
  return new Map(studies.map((s) => [s.id, { ...planReduction(s.plan, levels.get(s.id) ?? null), ...s.reduction, margin_k: s.margin_k }]));
}
