import { database } from '#app/database/pool';
import { studyMountFindings } from '#features/mount/server/mountFacts';
import { partCalculator } from '#features/ranking/server/partCalculator';
import type { ReportContent } from '#features/report/model/content';
import { methodLines } from '#features/report/model/method';
import { completeSections } from '#features/report/model/reportSections';
import { getDraft } from '#features/report/store/reports';
import { ladderTables } from '#features/results/model/ladderTable';
import { partRooms } from '#features/results/model/partRooms';
import { recommendationsOf } from '#features/results/server/recommend';
import { lookSentence, resultsPlace } from '#features/results/server/resultsPlace';
import type { StudyResults } from '#features/results/server/studyResults';
import { studyReduction } from '#features/run/server/studyReduction';
import { listLeftOut, listStudyFindings } from '#features/run/store/runs';
import { KIND_NAMES, type SpecimenKind } from '#features/shelf/model/materials';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import packageJson from '../../../../package.json' with { type: 'json' };

/** All that the report of a study says and shows, as it stands now. */
export const reportContent = async (studyId: number): Promise<ReportContent> => (await reportPlace(studyId)).content;

/**
 * The report of a study beside the results it is put together from.
 * Gathers what a report holds, field by field.
 */
export async function reportPlace(studyId: number): Promise<{ results: StudyResults; content: ReportContent }> {
  const db = database();
  const [place, making, findings, leftOut, draft] = await Promise.all([
    resultsPlace(studyId),
    studyMountFindings(studyId),
    listStudyFindings(db, studyId),
    listLeftOut(db, studyId),
    getDraft(db, studyId),
  ]);
  const { results, facts, answer } = place;
  const { study, level } = results;
  const reduction = await studyReduction(db, study);
  const content: ReportContent = {
    ...{ format: 1, title: study.title, question: study.question, made_at: new Date().toISOString() },
    sections: completeSections(draft?.sections ?? []).flatMap(({ key, shown, words }) => (shown ? [{ key, words }] : [])),
    held: (study.plan.held ?? []).map((h) => ({ what: h.what, value: h.value ?? '', tolerance: h.tolerance ?? '' })),
    specimens: facts.specimens.map((s) => ({
      ...{
        name: s.name,
        position: s.position,
        kind: KIND_NAMES[s.kind as SpecimenKind] ?? s.kind,
        planned: s.mounts_planned,
        tries: s.tries,
        failed: s.failed,
      },
      unit: results.specimens.find((r) => r.id === s.id)?.plan.unit ?? '',
    })),
    ...{
      reference: facts.reference,
      confidence: level.confidence,
      look: lookSentence(level),
      answer,
      worth: place.worth,
      worth_by: { outcome: results.choice.outcome, years: facts.years ?? null },
      currency: facts.currency,
    },
    ...{
      ...{ mounts: answer.figures, interactions: answer.interactions, before_after: place.before_after },
      ...{ budget: place.budget, drift: answer.drift },
    },
    part: results.origin && !results.origin.own ? null : await partCalculator(studyId),
    ladders: ladderTables(facts),
    part_rooms: partRooms(facts, answer.choice.load),
    limits_unread: facts.limits_unread,
    recommendations: await recommendationsOf(results),
    findings: {
      comparison: answer.analysis?.findings ?? [],
      mounts: making.flatMap((m) => m.findings.map((f) => ({ specimen: m.specimen, mount: m.number, message: f.message }))),
      runs: findings,
      left_out: leftOut.map((l) => ({ ...l, at: l.at?.toISOString() ?? null })),
    },
    runs: facts.runs.map((r) => ({
      ...{
        ...{ specimen: r.specimen, mount: r.mount, run: r.run, day: r.day, rig: r.rig, load: r.load },
        rise_k: r.values.rise ?? null,
        r_k_per_w: r.values.r_k_per_w ?? null,
      },
      valid: r.valid,
      reason: r.mount_reason ?? r.run_reason ?? (r.censored ? 'throttled: at or above' : r.valid ? '' : 'not valid'),
    })),
    method: [
      ...methodLines({ ...study.plan, margin_k: study.margin_k, confidence: study.confidence, scatter: study.scatter }, reduction),
      { what: 'Chance of being best', value: '20,000 draws of the means from their t distributions, seed 1' },
      { what: 'Seed of the order', value: String(study.plan.seed ?? PLAN_DEFAULTS.seed) },
      { what: 'Computed by', value: `Warm Gauge ${packageJson.version}` },
    ],
  };
  return { results, content };
}
