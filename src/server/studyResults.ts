import type { Analysis } from '#core/compare/analyse';
import { type AnalysisRow, mountValues } from '#core/compare/rows';
import { blocksDone, lookLevel } from '#core/plan/looks';
import { database } from '#db/pool';
import { listRunValues, type RunValueRow } from '#db/runs';
import { getStudy, listSpecimens, listStudies, type SpecimenRow, type StudyRow } from '#db/studies';
import { DEFAULT_MOUNT_SD, type SpecimenKind } from '#domain/materials';
import { PLAN_DEFAULTS } from '#domain/plan/studyPlan';
import { runComparison } from './jobs/pool';
import { Refusal } from './refusal';

/** One mount as a comparison sees it. */
export interface MountFigure {
  specimen: string;
  mount: number;
  /** mean of its valid runs; null where it has none */
  value: number | null;
  /** highest lower bound of its throttled runs, where it has no valid one */
  at_or_above: number | null;
  excluded_reason: string | null;
  run_ids: number[];
}

export interface StudyResults {
  study: StudyRow;
  reference: string | null;
  specimens: SpecimenRow[];
  mounts: MountFigure[];
  /** confidence that the verdicts are judged with; higher than the study's own at an interim look */
  level: StudyLevel;
  runs: number;
  left_out: number;
  /** null while no run is valid */
  analysis: Analysis | null;
}

/** At which look of its plan a study stands. */
export interface StudyLevel {
  confidence: number;
  /** share of the error spent so far */
  spent: number;
  blocks_done: number;
  blocks_planned: number;
  /** planned looks before the end, as numbers of blocks; none where the study was to be judged once */
  looks: number[];
}

/**
 * Everything the places of one study show: its specimens, mounts and the comparison as far as it goes.
 * @param chances whether to draw the chances of being coolest, which no place shows yet
 */
export async function studyResults(id: number, chances = false): Promise<StudyResults> {
  const db = database();
  const study = await getStudy(db, id);
  if (!study) throw new Refusal(`There is no study ${id}.`, 404);
  const [specimens, values] = await Promise.all([listSpecimens(db, id), listRunValues(db, id)]);
  return assemble(study, specimens, values, chances);
}

/** The same for every study, for the tables of the bench and the studies. */
export async function allResults(): Promise<StudyResults[]> {
  const db = database();
  const [studies, specimens, values] = await Promise.all([listStudies(db), listSpecimens(db), listRunValues(db)]);
  return Promise.all(
    studies.map((study) =>
      assemble(
        study,
        specimens.filter((s) => s.study_id === study.id),
        values.filter((v) => v.study_id === study.id),
        false,
      ),
    ),
  );
}

async function assemble(study: StudyRow, specimens: SpecimenRow[], values: RunValueRow[], chances: boolean): Promise<StudyResults> {
  const rows = values.map(toRow);
  const usable = rows.filter((r) => r.valid && !r.excluded);
  const reference = specimens.find((s) => s.id === study.reference_id)?.name ?? null;
  const level = levelOf(study, specimens, usable);
  const analysis =
    usable.length === 0
      ? null
      : await runComparison({
          rows,
          options: {
            margin: study.margin_k,
            confidence: level.confidence,
            scatter: study.scatter,
            family: study.plan.family ?? PLAN_DEFAULTS.family,
            chances,
            default_mount_sd: assumedSd(specimens),
            ...(reference ? { reference } : {}),
          },
        });
  return { study, reference, specimens, level, mounts: mountFigures(values, usable), runs: values.length, left_out: rows.length - usable.length, analysis };
}

/** A study with planned looks spends its error over them; one without is judged with its own confidence. */
function levelOf(study: StudyRow, specimens: SpecimenRow[], usable: AnalysisRow[]): StudyLevel {
  const planned = study.plan.mounts ?? PLAN_DEFAULTS.mounts;
  const looks = [...new Set(study.plan.looks ?? [])].filter((b) => b < planned).sort((a, b) => a - b);
  const done =
    specimens.length === 0
      ? 0
      : blocksDone(
          usable,
          specimens.map((s) => s.name),
        );
  const level = looks.length === 0 || done === 0 ? { confidence: study.confidence, spent: 0 } : lookLevel(looks, planned, done, study.confidence);
  return { ...level, blocks_done: done, blocks_planned: planned, looks };
}

/** A run as a row of the comparison; a throttled or unsteady one carries why it is left out. */
export function toRow(v: RunValueRow): AnalysisRow {
  const reason = v.excluded_reason ?? v.run_excluded_reason ?? (v.censored ? 'throttled' : v.valid ? undefined : 'not valid');
  return {
    specimen: v.specimen,
    mount: String(v.mount),
    run: String(v.run),
    value: v.rise_k ?? Number.NaN,
    valid: v.valid && v.rise_k !== null,
    excluded: v.excluded_reason !== null || v.run_excluded_reason !== null,
    reason,
  };
}

function mountFigures(values: RunValueRow[], usable: AnalysisRow[]): MountFigure[] {
  const means = new Map(mountValues(usable).map((m) => [`${m.mount} ${m.specimen}`, m.value]));
  const figures = new Map<string, MountFigure>();
  for (const v of values) {
    const key = `${v.mount} ${v.specimen}`;
    let figure = figures.get(key);
    if (!figure) {
      figure = { specimen: v.specimen, mount: v.mount, value: means.get(key) ?? null, at_or_above: null, excluded_reason: v.excluded_reason, run_ids: [] };
      figures.set(key, figure);
    }
    figure.run_ids.push(v.run_id);
    if (figure.value === null && v.censored && v.run_excluded_reason === null && v.rise_k !== null)
      figure.at_or_above = Math.max(figure.at_or_above ?? v.rise_k, v.rise_k);
  }
  return [...figures.values()];
}

function assumedSd(specimens: SpecimenRow[]): number {
  const known = specimens.map((s) => DEFAULT_MOUNT_SD[s.kind as SpecimenKind] ?? 0.5);
  return known.length === 0 ? 0.5 : Math.max(...known);
}

/** The runs of a study as the table that the headless analyse command reads. */
export async function runValuesCsv(id: number): Promise<string> {
  const values = await listRunValues(database(), id);
  const cell = (text: string) => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
  const lines = values.map((v) => {
    const row = toRow(v);
    return [cell(v.specimen), v.mount, v.run, v.rise_k ?? '', row.valid, row.excluded, cell(row.reason ?? ''), v.r_k_per_w ?? '', v.r_valid].join(',');
  });
  return `specimen,mount,run,value,valid,excluded,reason,r_k_per_w,r_valid\n${lines.map((l) => `${l}\n`).join('')}`;
}
