import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { mean } from '#core/stats/moments';
import { calibrateStack, type Stack } from '#core/thermal/stack/stack';
import { listRunValues } from '#features/run/store/runs';
import { resolvePlan } from '#features/study/model/resolve';
import { planView } from '#features/study/server/planView';
import { studyStack } from '#features/tools/model/studyStack';
import { wholesOf } from './measuredWholes';

/** The stack of one specimen of a study. */
export interface StackOfStudy {
  study: { id: number; title: string };
  specimen: string;
  specimens: string[];
  stack: Stack;
  known: string[];
  /** what was measured and fitted, in K/W; null where nothing was */
  fitted: { k_per_w: number; mounts: number } | null;
}

/**
 * A stack that starts from a study: its rig, its material, its power and room; the sink is fitted to the whole that was measured.
 * @param specimen the reference, or the first that was measured, where none is named
 */
export async function stackOfStudy(studyId: number, specimen: string | null): Promise<StackOfStudy> {
  const db = database();
  const view = await planView(studyId);
  const plan = resolvePlan(view.plan, view.context);
  if (plan.specimens.length === 0) throw new Refusal('This study has no specimen yet.', 409);
  const values = await listRunValues(db, studyId);
  const wholes = wholesOf(studyId, view.plan.title ?? '', values);
  const named = plan.specimens.find((s) => s.name === specimen);
  const chosen = named ?? plan.reference ?? plan.specimens.find((s) => wholes.some((w) => w.specimen === s.name)) ?? plan.specimens[0];
  const whole = wholes.find((w) => w.specimen === chosen.name) ?? null;
  const rigNames = new Set(values.filter((v) => v.specimen === chosen.name).map((v) => v.rig));
  const rig = plan.rigs[0] ?? view.context.rigs.find((r) => rigNames.has(r.name)) ?? null;
  const [low, high] = [view.plan.coldest_c, view.plan.warmest_c];
  const start = studyStack({
    ...{ rig: rig?.sheet ?? null, material: chosen.material, power_w: whole?.power_w ?? plan.load_w },
    room_c: low != null && high != null ? mean([low, high]) : null,
  });
  const fit = whole ? calibrateStack(start.stack, 'sink', [{ k_per_w: whole.k_per_w, se: whole.se ?? 0 }]) : null;
  return {
    study: { id: studyId, title: view.plan.title ?? '' },
    ...{ specimen: chosen.name, specimens: plan.specimens.map((s) => s.name), known: start.known },
    stack: fit?.ok ? fit.stack : start.stack,
    fitted: whole && fit?.ok ? { k_per_w: whole.k_per_w, mounts: whole.mounts } : null,
  };
}
