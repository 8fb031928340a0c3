import { database } from '#db/pool';
import { getDraft, listRecommendations } from '#db/reports';
import { listLeftOut, listStudyFindings } from '#db/runs';
import { KIND_NAMES, type SpecimenKind } from '#domain/materials';
import { PLAN_DEFAULTS } from '#domain/plan/planDefaults';
import type { ReportContent } from '#domain/report/content';
import { methodLines } from '#domain/report/method';
import { completeSections } from '#domain/report/sectionKeys';
import { partRooms } from '#domain/results/partRooms';
import packageJson from '../../../package.json' with { type: 'json' };
import { runRestChecks } from '../jobs/pool';
import { studyMountFindings } from '../mount/mountFacts';
import { resultsPlace } from '../results/resultsPlace';
import { lookSentence } from '../results/resultsView';
import type { StudyResults } from '../results/studyResults';
import { studyReductions } from '../run/studyReduction';

/** All that the report of a study says and shows, as it stands now. */
export async function reportContent(studyId: number): Promise<ReportContent> {
  return (await reportPlace(studyId)).content;
}

/** The report of a study beside the results it is put together from. */
export async function reportPlace(studyId: number): Promise<{ results: StudyResults; content: ReportContent }> {
  const db = database();
  const [place, making, findings, leftOut, draft, recommendations] = await Promise.all([
    resultsPlace(studyId),
    studyMountFindings(studyId),
    listStudyFindings(db, studyId),
    listLeftOut(db, studyId),
    getDraft(db, studyId),
    listRecommendations(db, studyId),
  ]);
  const { results, facts, answer } = place;
  const { study, level } = results;
  const reduction = (await studyReductions(db, [study])).get(study.id) ?? {};
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
    ...{ reference: facts.reference, confidence: level.confidence, look: lookSentence(level), answer, worth: place.worth, currency: facts.currency },
    ...{ mounts: answer.figures, interactions: answer.interactions, before_after: place.before_after, budget: place.budget, drift: answer.drift },
    part_rooms: partRooms(facts, answer.choice.load),
    limits_unread: facts.limits_unread,
    recommendations: await Promise.all(
      recommendations.map(async ({ reader, words, rests_on }) => ({
        reader,
        words,
        checks: await runRestChecks({ facts, rests: rests_on, confidence: level.confidence }),
      })),
    ),
    findings: {
      comparison: answer.analysis?.findings ?? [],
      mounts: making.flatMap((m) => m.findings.map((f) => ({ specimen: m.specimen, mount: m.number, message: f.message }))),
      runs: findings,
      left_out: leftOut.map((l) => ({ ...l, at: l.at?.toISOString() ?? null })),
    },
    runs: facts.runs.map((r) => ({
      ...{
        specimen: r.specimen,
        mount: r.mount,
        run: r.run,
        day: r.day,
        rig: r.rig,
        load: r.load,
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
