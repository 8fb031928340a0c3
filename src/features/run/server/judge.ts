import { type Client, database, transaction } from '#app/database/pool';
import type { LogOptions } from '#core/signal/logs/types';
import type { ReduceOptions } from '#core/signal/reduce/types';
import { deleteNote, insertNote, listNotes, lockRun, type RunNoteRow, setJudged, updateReading } from '#features/run/store/judgements';
import { getRun, type PlacedRun, type ReadingFigures } from '#features/run/store/runs';

export type { ReadingFigures } from '#features/run/store/runs';

import { type ChangeRow, insertChange, listChanges } from '#app/database/changes';
import { Refusal } from '#app/refusal';
import { Judgement, RunNote, windowProblem } from '#features/run/model/judgement';
import { check } from '#rules/validation';
import { refuseReadMeanwhile, refuseUnseenRun } from './seenRun';
import { keptSources, streamReduction } from './streamReduction';

/** What a person decided about a run, and how it stands by that. */
export interface JudgementView {
  judged: PlacedRun['judged'];
  reason: string | null;
  now: ReadingFigures;
  /** the automatic reading, where the window was set by hand */
  automatic: ReadingFigures | null;
  history: ChangeRow<ReadingFigures>[];
  notes: RunNoteRow[];
}

/** What of a reading the journal keeps. */
export const judgedFigures = ({ result: r }: Pick<PlacedRun, 'result'>): ReadingFigures => ({
  ...{ window: r.window, rise_k: r.rise_k, se_k: r.se_k, valid: r.valid, censored: r.censored },
});

/**
 * What a person decided of a run, with its history and notes.
 * @throws Refusal 404 where there is none
 */
export async function judgementView(id: number, db: Client = database()): Promise<JudgementView> {
  const run = await demand(db, id);
  return {
    ...{ judged: run.judged, reason: run.run_excluded_reason, now: judgedFigures(run), automatic: run.automatic },
    history: await listChanges<ReadingFigures>(db, 'run', id),
    notes: await listNotes(db, id),
  };
}

/** Accepts, excludes or reopens a run, or sets its window by hand and reads it anew from its files; what was before is kept. */
export async function judgeRun(id: number, given: Record<string, unknown>): Promise<JudgementView> {
  const {
    action,
    reason = '',
    window,
    who = '',
  } = check(Judgement, { ...given, ...(typeof given.reason === 'string' ? { reason: given.reason.trim() } : {}) });
  const run = await demand(database(), id);
  await refuseUnseenRun(database(), id, given);
  if (action === 'window' || action === 'automatic') {
    if (action === 'window') {
      const problem = window ? windowProblem(window, run.result.stages) : 'Say where the window begins and ends.';
      if (problem) throw new Refusal(problem, 400, { field: 'window' });
    } else if (!run.automatic) throw new Refusal('This run already uses its automatic window.', 409);
    const options = {
      ...(run.options as Partial<ReduceOptions>),
      window: action === 'window' && window ? { start_s: window.start_s, end_s: window.end_s } : null,
    };
    const sources = await keptSources(id);
    const outcome = await streamReduction({ sources, reading: run.reading as LogOptions, options, offsets: run.result.clock_offset_s });
    if (!outcome.ok) throw new Refusal(outcome.problem);
    const { findings, ...result } = outcome.reduction;
    return transaction(async (client) => {
      await lockRun(client, id);
      const now = await demand(client, id);
      await refuseUnseenRun(client, id, given);
      refuseReadMeanwhile(run, now);
      await updateReading(
        client,
        id,
        result,
        findings,
        { reading: run.reading, options },
        action === 'window' ? (now.automatic ?? judgedFigures(now)) : null,
      );
      await insertChange(client, {
        ...{ who, subject: 'run', subject_id: id, action, reason },
        before: judgedFigures(now),
        after: judgedFigures({ result }),
      });
      return judgementView(id, client);
    });
  }
  return transaction(async (client) => {
    await lockRun(client, id);
    const now = await demand(client, id);
    await refuseUnseenRun(client, id, given);
    const state = ({ accept: 'accepted', exclude: 'excluded', reopen: 'open' } as const)[action];
    if (state === now.judged && state !== 'excluded')
      throw new Refusal(state === 'open' ? 'This run is already open.' : 'This run is already accepted.', 409);
    await setJudged(client, id, state, state === 'excluded' ? reason : null);
    await insertChange(client, {
      ...{ who, subject: 'run', subject_id: id, action, reason },
      before: judgedFigures(now),
      after: judgedFigures(now),
    });
    return judgementView(id, client);
  });
}

/** Pins a note to a time of a run. */
export async function pinNote(id: number, given: Record<string, unknown>): Promise<JudgementView> {
  const { at_s, text, who = '' } = check(RunNote, { ...given, ...(typeof given.text === 'string' ? { text: given.text.trim() } : {}) });
  const run = await demand(database(), id);
  if (at_s > run.result.duration_s)
    throw new Refusal(`The run lasts ${Math.round(run.result.duration_s)} s; a note is pinned to a time of it.`, 400, { field: 'at_s' });
  await insertNote(database(), { run_id: id, at_s, text, who });
  return judgementView(id);
}

/** Takes a note away; the answer carries it, so that it can be pinned again. */
export async function unpinNote(id: number, note: number): Promise<JudgementView & { taken: RunNoteRow }> {
  const taken = await deleteNote(database(), id, note);
  if (!taken) throw new Refusal(`This run has no note ${note}.`, 404);
  return { ...(await judgementView(id)), taken };
}

async function demand(db: Client, id: number): Promise<PlacedRun> {
  const run = await getRun(db, id);
  if (!run) throw new Refusal(`There is no run ${id}.`, 404);
  return run;
}
