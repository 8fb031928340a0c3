import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { OutcomeKey } from '#core/compare/outcomes';
import type { AnalysisRow } from '#core/compare/rows';
import { CHOICES_MARK, type TableChoices } from '#core/compare/runTable';
import type { Analysis } from '#core/compare/types';
import { blocksDone, lookLevel } from '#core/design/looks';
import { csvText, jsonComment } from '#core/text/csv';
import { leadingChoice, optionsFor, rowsFor, studyChoice } from '#features/results/model/choice';
import { deviceRows } from '#features/results/model/deviceChanges';
import type { ResultsChoice, StudyFacts } from '#features/results/model/facts';
import { type MountFigure, mountFigures } from '#features/results/model/figures';
import { listVerdictsShown } from '#features/results/store/verdictsShown';
import { listRunValues, type RunValueRow } from '#features/run/store/runs';
import type { LabHistory } from '#features/study/model/context';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import { answerTo } from '#features/study/server/keptAnswers';
import { labHistory } from '#features/study/server/labHistory';
import { listNotices, type Notice } from '#features/study/store/notices';
import { getOrigin, type OriginRow } from '#features/study/store/origins';
import { getStudy, listSpecimens, type SpecimenRow, type StudyRow } from '#features/study/store/studies';
import { factsOf } from './facts';
import { resultsThreads } from './tasks';

export interface StudyResults {
  study: StudyRow;
  reference: string | null;
  specimens: SpecimenRow[];
  mounts: MountFigure[];
  /** confidence that the verdicts are judged with; higher than the study's own at an interim look */
  level: StudyLevel;
  runs: number;
  left_out: number;
  facts: StudyFacts;
  /** what the study itself is judged by */
  choice: ResultsChoice;
  /** the lab's own scatter, where a specimen of one mount is judged by it */
  history: LabHistory[];
  /** what an upgrade changed in it, until somebody has read it */
  notices: Notice[];
  /** null where it was measured here */
  origin: OriginRow | null;
  /** null while no run is valid */
  analysis: Analysis | null;
  /** the comparison to tell first, where it is another: the reference throttled, so that its rise says little */
  lead: { choice: ResultsChoice; analysis: Analysis } | null;
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

/** What a study's results rest on, before anything is compared. */
export type GatheredStudy = Omit<StudyResults, 'analysis' | 'lead'>;

/** The runs, specimens and settings of one study, not compared yet. */
export async function gatherStudy(id: number): Promise<GatheredStudy> {
  const db = database();
  const study = await getStudy(db, id);
  if (!study) throw new Refusal(`There is no study ${id}.`, 404);
  const [specimens, values, shown, notices, origin] = await Promise.all([
    listSpecimens(db, id),
    listRunValues(db, id),
    listVerdictsShown(db, id),
    listNotices(db, id),
    getOrigin(db, id),
  ]);
  return { ...gathered(study, specimens, values, await historyFor(values, origin), shown), notices, origin };
}

/**
 * Scatter of the lab that measured a study, asked for only where a specimen of one mount needs it.
 * @param origin of a study that came from elsewhere
 */
export async function historyFor(
  values: Pick<RunValueRow, 'specimen' | 'mount_id'>[],
  origin: Pick<OriginRow, 'own' | 'lab_scatter'> | null,
): Promise<LabHistory[]> {
  const mounts = new Map<string, Set<number>>();
  for (const v of values) mounts.set(v.specimen, (mounts.get(v.specimen) ?? new Set()).add(v.mount_id));
  if (![...mounts.values()].some((m) => m.size === 1)) return [];
  return origin && !origin.own ? origin.lab_scatter : labHistory(database());
}

/** A study from its rows, not compared yet. */
export function gathered(
  study: StudyRow,
  specimens: SpecimenRow[],
  values: RunValueRow[],
  history: LabHistory[],
  shown: number[],
): GatheredStudy {
  const facts = factsOf(study, specimens, values, history, shown);
  const choice = studyChoice(facts);
  const rows = rowsFor(facts, choice);
  const usable = rows.filter((r) => r.valid && !r.excluded);
  return {
    ...{ study, reference: facts.reference, specimens, facts, choice, history, notices: [], origin: null },
    level: levelOf(study, specimens, usable),
    mounts: mountFigures(facts, choice),
    runs: values.length,
    left_out: rows.length - usable.length,
  };
}

/** The comparisons of a study that is at hand. */
export async function compareStudy(gathered: GatheredStudy): Promise<StudyResults> {
  const { facts, choice } = gathered;
  const leading = leadingChoice(facts);
  const analysis = await compareUnder(gathered, choice);
  const led = leading.outcome === choice.outcome ? null : await compareUnder(gathered, leading);
  return { ...gathered, analysis, lead: led && { choice: leading, analysis: led } };
}

/** The change of each device of a study as a table; the head alone where states are not crossed with devices. */
export async function devicesCsv(id: number): Promise<string> {
  const { facts } = await gatherStudy(id);
  const states = (await resultsThreads.beforeAndAfter(facts)).filter((s) => s.devices);
  return csvText(states.flatMap((s) => deviceRows(s.devices ?? [], s.before, s.after)));
}

/** The comparison under a choice, by a worker; null while no run of it is valid. */
export function compareUnder({ facts, level }: GatheredStudy, choice: ResultsChoice): Promise<Analysis | null> {
  const rows = rowsFor(facts, choice);
  if (!rows.some((r) => r.valid && !r.excluded)) return Promise.resolve(null);
  const asked = { rows, options: optionsFor(facts, choice, level.confidence) };
  return answerTo(facts.study_id, `compare ${choice.outcome}`, asked, () => resultsThreads.compareRuns(asked));
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
  const level =
    looks.length === 0 || done === 0 ? { confidence: study.confidence, spent: 0 } : lookLevel(looks, planned, done, study.confidence);
  return { ...level, blocks_done: done, blocks_planned: planned, looks };
}

/** The runs of a study as the table that the headless analyse command reads, with the choices that give it the same verdicts there. */
export async function runValuesCsv(id: number): Promise<string> {
  const { facts, choice, level } = await gatherStudy(id);
  return valuesTable(facts, choice, level.confidence);
}

/** The runs of a study with all that their verdicts rest on: bounds of throttled runs, loads, rigs, and the choices in a comment line. */
export function valuesTable(facts: StudyFacts, choice: ResultsChoice, confidence: number): string {
  const choicesFor = (outcome: Extract<OutcomeKey, 'rise' | 'r_k_per_w'>): TableChoices => {
    const { outcome: _, chances: __, ...options } = optionsFor(facts, { ...choice, outcome }, confidence);
    return { ...options, load: choice.load };
  };
  const rows = rowsFor(facts, { ...choice, load: null }).map((row, i) => {
    const r = facts.runs[i];
    return {
      ...{ specimen: r.specimen, mount: r.mount, run: r.run, day: r.day ?? '', rig: r.rig, device: r.rig, load: r.load ?? '' },
      ...{ value: row.censored ? '' : (r.values.rise ?? ''), at_least: row.censored ? (r.values.rise ?? '') : '' },
      ...{
        valid: row.valid,
        excluded: row.excluded,
        reason: row.reason ?? '',
        r_k_per_w: r.values.r_k_per_w ?? '',
        r_valid: r.r_valid && r.values.r_k_per_w !== undefined,
      },
    };
  });
  const columns = 'specimen,mount,run,day,rig,device,load,value,at_least,valid,excluded,reason,r_k_per_w,r_valid'.split(',');
  const choices = jsonComment({ rise: choicesFor('rise'), r_k_per_w: choicesFor('r_k_per_w') });
  return `${CHOICES_MARK}${choices}\n${csvText([columns, ...rows.map((r) => Object.values(r))])}`;
}
