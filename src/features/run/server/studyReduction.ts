import type { Client } from '#app/database/pool';
import type { ReduceOptions } from '#core/signal/reduce/types';
import { listReferenceLevels, type PlacedRun, type ReferenceLevels } from '#features/run/store/runs';
import { readChannelMap } from '#features/shelf/model/channelMap';
import type { InstrumentSheet } from '#features/shelf/model/sheets';
import { listSheets } from '#features/shelf/store/sheets';
import { planReduction } from '#features/study/model/reduction';
import type { StudyRow } from '#features/study/store/studies';

/** How the runs of a study are reduced: what the plan says of the load, and over it what the study itself sets. */
export const studyReduction = async (db: Client, study: StudyRow, load: string | null = null): Promise<Partial<ReduceOptions>> =>
  reductionUnder(study, load, await listReferenceLevels(db, study.id));

/** How the runs of one study under a load are reduced. */
export function reductionUnder(study: StudyRow, load: string | null, levels: ReferenceLevels[]): Partial<ReduceOptions> {
  // runs made before a study named its loads count for the first
  const first = study.plan.loads?.[0]?.name ?? null;
  const wanted = load ?? first;
  const own = levels.find((l) => l.study_id === study.id && (l.load ?? first) === wanted) ?? null;
  return { ...planReduction(study.plan, own, wanted), ...study.reduction, margin_k: study.margin_k };
}

/** Sensors that most mounts of a specimen were judged by; null where none is known. */
export function usualSensors(runs: PlacedRun[], specimenId: number): string[] | null {
  const byMount = new Map<number, string>();
  for (const r of runs) {
    if (r.specimen_id !== specimenId || !r.valid || r.judged === 'excluded' || r.excluded_reason !== null || byMount.has(r.mount_id))
      continue;
    byMount.set(r.mount_id, JSON.stringify(r.result.sensors.map((s) => s.name).sort()));
  }
  const counts = new Map<string, number>();
  for (const names of byMount.values()) counts.set(names, (counts.get(names) ?? 0) + 1);
  const [most] = [...counts].sort((a, b) => b[1] - a[1]);
  const names: string[] = most ? JSON.parse(most[0]) : [];
  return names.length > 0 ? names : null;
}

/** Resolution of the room probes that the sheets of a rig's instruments know, by the name of the instrument and of its channels, K. */
export async function probeResolutions(db: Client, rigId: number): Promise<Record<string, number>> {
  const rig = (await listSheets(db, 'rigs')).find((r) => r.id === rigId);
  const wanted = (rig?.sheet as { instruments?: number[] } | undefined)?.instruments ?? [];
  if (wanted.length === 0) return {};
  const known: Record<string, number> = {};
  for (const { id, name, sheet } of await listSheets(db, 'instruments')) {
    const s = sheet as InstrumentSheet;
    if (!wanted.includes(id) || s.reads !== 'temperature' || s.resolution == null) continue;
    const map = readChannelMap(s.channels ?? '');
    const channels = 'problem' in map ? [] : map.channels.filter((c) => c.role === 'ambient').map((c) => c.name);
    for (const probe of [name, ...channels]) known[probe] = s.resolution;
  }
  return known;
}
