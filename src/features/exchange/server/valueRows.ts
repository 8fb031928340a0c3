import type { Reduction } from '#core/signal/reduce/types';
import type { PackageRow } from '#features/exchange/model/packageTable';
import type { PackagedRun, StudyDocument } from '#features/exchange/model/studyDocument';
import { type GatheredStudy, gathered } from '#features/results/server/studyResults';
import type { RunValueRow } from '#features/run/store/runs';
import type { RigPart } from '#features/shelf/model/rigParts';
import type { SpecimenRow, StudyRow } from '#features/study/store/studies';

/** What a package says of its study, as far as the comparison rests on it. */
export interface PackagedStudy {
  document: StudyDocument;
  tables: Record<'specimens' | 'mounts' | 'runs', PackageRow[]>;
  /** what each run's files give, by its number; without it the figures of the tables count */
  reductions: Map<number, Omit<Reduction, 'findings'>>;
}

/** The study of a package as its results rest on it: the same from the store and from a file. */
export function gatheredFrom({ document, tables, reductions }: PackagedStudy): GatheredStudy {
  const plans = new Map(document.specimens.map((s) => [s.id, s.plan]));
  const specimens = tables.specimens.map(
    (s) => ({ ...s, study_id: document.study.id, plan: plans.get(s.id as number) ?? {} }) as unknown as SpecimenRow,
  );
  const reference = tables.specimens.find((s) => s.reference === true);
  const study = { ...document.study, reference_id: reference?.id ?? null, archived_at: null } as unknown as StudyRow;
  const parts = new Map(document.shelf.rigs.map((r) => [r.name, r.parts as RigPart[]]));
  const names = new Map(tables.specimens.map((s) => [s.id, s.name as string]));
  const mounts = new Map(tables.mounts.map((m) => [m.id, m]));
  const runs = new Map(document.runs.map((r) => [r.id, r]));
  const values = tables.runs.flatMap((run) => {
    const mount = mounts.get(run.mount_id);
    const read = runs.get(run.id as number);
    const reduction = reductions.get(run.id as number);
    if (!mount || !read || !reduction) return [];
    return [
      valueRow(run, mount, {
        ...{ study_id: study.id, specimen: names.get(mount.specimen_id) ?? '', reduction, program: read.program },
        rig_parts: parts.get(mount.rig as string) ?? [],
      }),
    ];
  });
  const { lab_scatter, verdicts_shown } = document.comparison;
  return gathered(study, specimens, values, lab_scatter, verdicts_shown);
}

interface RunOfStudy {
  study_id: number;
  specimen: string;
  reduction: Omit<Reduction, 'findings'>;
  program: PackagedRun['program'];
  rig_parts: RigPart[];
}

/** What a comparison needs of a run, from its rows in the tables and what its files give. */
function valueRow(run: PackageRow, mount: PackageRow, { study_id, specimen, reduction: r, program, rig_parts }: RunOfStudy): RunValueRow {
  return {
    ...{ study_id, specimen, mount: mount.number as number, mount_id: mount.id as number, rig: mount.rig as string },
    ...{ run: run.number as number, run_id: run.id as number, day: run.day as string | null, load: run.load as string | null },
    at_s: run.started_at === null ? null : Date.parse(run.started_at as string) / 1000,
    at_zoned: run.started_zoned as boolean,
    excluded_reason: mount.excluded_reason as string | null,
    run_excluded_reason: run.excluded_reason as string | null,
    ...{ rise_k: r.rise_k, r_k_per_w: r.r_k_per_w, valid: r.valid, r_valid: r.r_valid, censored: r.censored },
    ...{ idle_rise_k: r.idle_rise_k, spread_k: r.spread_k, hottest_rise_k: r.hottest_rise_k, exhaust_rise_k: r.exhaust_rise_k },
    ...{ fan_rpm: r.fan_rpm, fan_pct: r.fan_pct ?? null, clock_mhz: r.clock_mhz, voltage_v: r.voltage_v ?? null, noise_db: r.noise_db },
    ...{ power_w: r.power_w, throttled_share: r.throttled_share, fan: r.fan, performance: r.performance, times_to: r.times_to },
    ...{ sensors: r.sensors, parts: r.parts ?? null, ladder: r.ladder ?? null, decision: r.decision, program, rig_parts },
  };
}
