import { database } from '#app/database/pool';
import type { Sweep } from '#core/thermal/coolers/sweep';
import { marginFor } from '#features/results/model/choice';
import { type CoolersAsSet, coolersAsSet } from '#features/results/model/coolers/asSet';
import { type CoolerBuild, coolerBuild } from '#features/results/model/coolers/builds';
import type { CoolerAnswer } from '#features/results/model/coolers/coolersAnswer';
import { type Crossed, crossedEffects } from '#features/results/model/coolers/crossed';
import { type CoolerQuestion, crossingSentences, heldWords } from '#features/results/model/coolers/figures';
import type { StudyFacts } from '#features/results/model/facts';
import { type ArrangedResults, arrange } from '#features/results/model/resultsAnswer';
import { hasSeveralSpeeds, hasSweeps, sharedRange, soundUnit, sweepsOf } from '#features/results/model/sweeps';
import { listSoundClips, type SoundClipRow } from '#features/results/store/soundClips';
import { listRunValues } from '#features/run/store/runs';
import { answerTo } from '#features/study/server/keptAnswers';
import { listSpecimenCoolers } from '#features/study/store/studies';
import { compareUnder, type GatheredStudy, gatherStudy } from './studyResults';
import { resultsThreads } from './tasks';

interface CoolersPlace {
  results: GatheredStudy;
  sweeps: Sweep[];
  /** null where no specimen was run at three speeds */
  answer: CoolerAnswer | null;
  /** coolers that were each run at one speed, with their comparison; null where there are sweeps, or no two sound levels */
  as_set: { set: CoolersAsSet; answer: ArrangedResults; confidence: number } | null;
  crossings: string[];
  crossed: Crossed | null;
  /** build, fit and price of each; empty where no specimen is a cooler of the shelf */
  builds: CoolerBuild[];
  clips: SoundClipRow[];
}

/** Coolers of a study over their fan speeds, first held alike at the level its plan names, and what heatsink and fan account for. */
export async function coolersPlace(id: number): Promise<CoolersPlace> {
  const results = await gatherStudy(id);
  const { facts } = results;
  const sweeps = sweepsOf(facts);
  const question = firstQuestion(sweeps, facts.sound.target_db);
  const answer = question && (await answerCoolers(facts, question));
  return {
    results,
    sweeps,
    answer,
    as_set: answer ? null : await asSetOf(results),
    crossings: crossingSentences(sweeps, facts),
    crossed: crossedOf(results, answer),
    builds: await buildsOf(results),
    clips: await listSoundClips(database(), id),
  };
}

async function asSetOf(results: GatheredStudy): Promise<CoolersPlace['as_set']> {
  const { facts, choice, level } = results;
  const analysis = await compareUnder(results, choice);
  const set = analysis && coolersAsSet(facts, analysis);
  return set ? { set, answer: arrange(facts, choice, analysis), confidence: level.confidence } : null;
}

async function buildsOf({ study }: Pick<GatheredStudy, 'study'>): Promise<CoolerBuild[]> {
  const db = database();
  const [coolers, values] = await Promise.all([listSpecimenCoolers(db, study.id), listRunValues(db, study.id)]);
  if (coolers.every((c) => c.sheet === null)) return [];
  const { fit_enclosure, fit_height_mm, fit_mass_g } = study.plan;
  const enclosure = { name: fit_enclosure ?? '', height_mm: fit_height_mm ?? null, mass_g: fit_mass_g ?? null };
  return coolers.map((c) =>
    coolerBuild({ ...c, fans: values.filter((v) => v.specimen === c.specimen).flatMap((v) => v.fan ?? []) }, enclosure),
  );
}

/** Coolers held alike, as they were answered for before. */
const answerCoolers = (facts: StudyFacts, question: CoolerQuestion) =>
  answerTo(facts.study_id, 'coolers', { facts, question }, () => resultsThreads.coolers({ facts, question }));

function firstQuestion(sweeps: Sweep[], target: number | null): CoolerQuestion | null {
  if (!hasSweeps(sweeps)) return null;
  const levels = sharedRange(sweeps, 'noise');
  if (levels) return { by: 'noise', at: target ?? Math.round((levels[0] + levels[1]) / 2) };
  const speeds = sharedRange(sweeps, 'speed');
  return speeds ? { by: 'speed', at: Math.round((speeds[0] + speeds[1]) / 20) * 10 } : null;
}

/** A study's verdict where its coolers are held alike; null where none was run at several speeds. */
export async function heldVerdict({ facts }: Pick<GatheredStudy, 'facts'>): Promise<{ claim: string; basis: string } | null> {
  if (!hasSeveralSpeeds(facts.runs)) return null;
  const question = firstQuestion(sweepsOf(facts), facts.sound.target_db);
  const answer = question && (await answerCoolers(facts, question));
  if (!answer || answer.headline.claim === '') return null;
  return { claim: `${heldWords(answer.question, soundUnit(facts.sound))}: ${answer.headline.claim}`, basis: answer.headline.basis };
}

/** The crossed factors where coolers are held alike, else over the runs as they are. */
function crossedOf({ facts, mounts }: GatheredStudy, answer: CoolerAnswer | null): Crossed | null {
  const values = new Map<string, number[]>();
  const add = (specimen: string, value: number | null) => value !== null && values.set(specimen, [...(values.get(specimen) ?? []), value]);
  if (answer) for (const r of answer.rungs) for (const m of r.mounts) add(r.name, m.value);
  else for (const m of mounts) if (m.excluded_reason === null) add(m.specimen, m.value);
  return crossedEffects(facts, values, answer?.shared_errors ?? {}, 'rise', marginFor(facts, 'rise'));
}
