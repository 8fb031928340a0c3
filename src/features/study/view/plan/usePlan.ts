import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { PlanContext } from '#features/study/model/context';
import type { PlanFields } from '#features/study/model/planFields';
import { type ResolvedPlan, resolvePlan } from '#features/study/model/resolve';
import type { RunsSoFar } from '#features/study/model/soFar';
import type { SpecimenPlan } from '#features/study/model/specimenPlan';
import type { PlanKey, StudyPlan } from '#features/study/model/studyPlan';
import type { PlanChangeAnswer } from '#features/study/server/editPlan';
import type { PlanView } from '#features/study/server/planView';
import { send, sendJson } from '#ui/send';
import { fieldName } from './fieldName';

/** A change that is not stored yet, with the version of the plan it was made on. */
interface Draft {
  value: unknown;
  base: number;
  /** false until the rules are there to judge it by: neither computed with nor stored */
  judged: boolean;
}

/** A change that was stored, with what stood there before. */
interface PlanChange {
  field: string;
  before: unknown;
  /** when it was stored last, ms */
  at: number;
}

export interface PlanDesk {
  view: PlanView;
  /** words, units and ranges of all fields */
  fields: PlanFields;
  soFar: RunsSoFar;
  /** the stored plan with what is being typed over it */
  plan: StudyPlan;
  context: PlanContext;
  resolved: ResolvedPlan;
  /** sentences by field, for what breaks a rule and so is not stored */
  errors: Record<string, string>;
  /** what somebody else wrote into a field that is being changed here */
  conflicts: Record<string, unknown>;
  told: string | null;
  /** fields that somebody else changed a moment ago */
  elsewhere: string[];
  /** whether anything typed is on its way to the store */
  saving: boolean;
  /** what stands in a field, also where it breaks a rule */
  typed: (field: PlanKey) => unknown;
  set: (field: string, value: unknown) => void;
  /** says that what is typed cannot be a value at all */
  refuse: (field: string, sentence: string) => void;
  /** the last stored change, to be taken back; null where there is none */
  last: PlanChange | null;
  /** puts the value before the last stored change back */
  undo: () => void;
  takeTheirs: (field: string) => void;
  keepMine: (field: string) => void;
  /** sends an action whose answer is the whole view */
  act: (path: string, init: RequestInit) => Promise<PlanView | null>;
}

/** The rules of the fields, fetched where somebody first turns to one: who reads a plan needs none. */
let rules: Pick<typeof import('#features/study/model/planFields'), 'planProblem'> | null = null;

export async function loadRules(): Promise<void> {
  // where they cannot be had, the server judges alone
  rules ??= await import('#features/study/model/planFields').catch(() => ({ planProblem: () => null }));
}

const SAVE_AFTER_MS = 500;
/** what is typed letter by letter within this time is one change */
const ONE_CHANGE_MS = 3000;
/** changes that can be taken back one after the other */
const MOST_UNDONE = 50;
const LOOK_EVERY_MS = 3000;
const HEADERS = { 'content-type': 'application/json' };

/** The plan of one study: what is typed is computed with at once and stored soon after, field by field. */
export function usePlan(initial: PlanView, fields: PlanFields, soFar: RunsSoFar): PlanDesk {
  const [view, setView] = useState(initial);
  const [drafts, setDrafts] = useState<Record<string, Draft>>({});
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [conflicts, setConflicts] = useState<Record<string, unknown>>({});
  const [told, setTold] = useState<string | null>(null);
  const [elsewhere, setElsewhere] = useState<string[]>([]);
  const [saving, setSaving] = useState(false);
  const [changes, setChanges] = useState<PlanChange[]>([]);
  const undone = useRef<string | null>(null);
  const latest = useRef({ view, drafts, errors, conflicts, busy: false });
  Object.assign(latest.current, { view, drafts, errors, conflicts });
  const url = `/api/studies/${initial.study_id}`;

  const accept = useCallback((next: PlanView, own: string[]) => {
    const before = latest.current.view;
    if (next.version < before.version) return;
    const changed = changedFields(before, next).filter((f) => !own.includes(f));
    latest.current.view = next;
    setView(next);
    setElsewhere(changed);
  }, []);

  const store = useCallback(
    async (insist: string[] = []) => {
      const now = latest.current;
      if (now.busy) return;
      const ready = Object.entries(now.drafts).filter(
        ([f, d]) => d.judged && !now.errors[f] && (!(f in now.conflicts) || insist.includes(f)),
      );
      if (ready.length === 0) return;
      const base = Math.min(...ready.map(([, d]) => d.base));
      const sent = ready.filter(([, d]) => d.base === base);
      now.busy = true;
      setSaving(true);
      const refused: { field?: unknown } = {};
      const answer = await sendJson<PlanChangeAnswer>(
        'PATCH',
        `${url}/plan`,
        { base, insist, changes: Object.fromEntries(sent.map(([f, d]) => [f, d.value])) },
        setTold,
        (b) => Object.assign(refused, b),
      );
      now.busy = false;
      setSaving(false);
      if (!answer) {
        // what was refused stays in its field with the sentence beside it, and is not sent again until it is changed
        const field = typeof refused.field === 'string' ? refused.field : sent[0][0];
        undone.current = null;
        setErrors((e) => ({ ...e, [field]: 'Not stored: see the sentence above the plan.' }));
        return;
      }
      const lost = new Map(answer.conflicts.map((c) => [c.field, c.theirs]));
      setConflicts((c) => ({ ...Object.fromEntries(Object.entries(c).filter(([f]) => !insist.includes(f))), ...Object.fromEntries(lost) }));
      setDrafts((d) => {
        const rest = { ...d };
        for (const [f, draft] of sent) if (!lost.has(f) && rest[f]?.value === draft.value) delete rest[f];
        for (const f of Object.keys(rest))
          if (!lost.has(f) && sent.some(([s]) => s === f)) rest[f] = { ...rest[f], base: answer.view.version };
        return rest;
      });
      const stored = sent
        .filter(([f]) => !lost.has(f) && f !== undone.current)
        .map(([field]): PlanChange => ({ field, before: standing(now.view, field) ?? null, at: Date.now() }));
      undone.current = null;
      setChanges((all) => stored.reduce(withChange, all).slice(-MOST_UNDONE));
      accept(
        answer.view,
        sent.map(([f]) => f),
      );
    },
    [url, accept],
  );

  useEffect(() => {
    if (Object.keys(drafts).length === 0) return;
    const timer = setTimeout(() => void store(), SAVE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [drafts, store]);

  useEffect(() => {
    const look = async () => {
      if (document.visibilityState !== 'visible' || latest.current.busy) return;
      const answer = await fetch(`${url}/plan?known=${latest.current.view.version}`).catch(() => null);
      if (answer?.status === 200 && !latest.current.busy) accept((await answer.json()) as PlanView, []);
    };
    const timer = setInterval(look, LOOK_EVERY_MS);
    return () => clearInterval(timer);
  }, [url, accept]);

  useEffect(() => {
    // leaving while something is not stored yet is asked about by the browser
    const hold = (e: BeforeUnloadEvent) => {
      if (Object.keys(latest.current.drafts).length > 0) e.preventDefault();
    };
    window.addEventListener('beforeunload', hold);
    return () => window.removeEventListener('beforeunload', hold);
  }, []);

  const plan = useMemo(
    () => ({ ...view.plan, ...valid(drafts, errors, (f) => (f.startsWith('specimen:') ? null : f)) }) as StudyPlan,
    [view, drafts, errors],
  );
  const context = useMemo(() => withDrafts(view.context, drafts, errors), [view, drafts, errors]);
  const resolved = useMemo(() => resolvePlan(plan, context), [plan, context]);

  const judge = (field: string, value: unknown) => {
    const problem = rules?.planProblem(field, value);
    setErrors(({ [field]: _, ...rest }) => (problem ? { ...rest, [field]: problem } : rest));
    // meanwhile it may have been typed over; that is judged by itself
    setDrafts((d) => (d[field]?.value === value ? { ...d, [field]: { ...d[field], judged: true } } : d));
  };
  const set = (field: string, value: unknown) => {
    setDrafts((d) => ({ ...d, [field]: { value, base: d[field]?.base ?? latest.current.view.version, judged: false } }));
    if (rules) judge(field, value);
    else void loadRules().then(() => judge(field, value));
  };
  const without = (f: string) => (all: Record<string, unknown>) => Object.fromEntries(Object.entries(all).filter(([k]) => k !== f));
  return {
    ...{ view, fields, soFar, plan, context, resolved, errors, conflicts, told, elsewhere },
    saving: saving || Object.keys(drafts).some((f) => !errors[f] && !(f in conflicts)),
    typed: (field) => (field in drafts ? drafts[field].value : view.plan[field]),
    set,
    last: changes.at(-1) ?? null,
    undo() {
      const change = changes.at(-1);
      if (!change) return;
      undone.current = change.field;
      setChanges((all) => all.slice(0, -1));
      set(change.field, change.before);
    },
    refuse(field, sentence) {
      setErrors((e) => ({ ...e, [field]: sentence }));
    },
    takeTheirs(field) {
      setDrafts(without(field) as (d: Record<string, Draft>) => Record<string, Draft>);
      setConflicts(without(field));
    },
    keepMine(field) {
      void store([field]);
    },
    async act(path, init) {
      await store();
      const answer = await send<PlanView>(url + path, { headers: HEADERS, ...init }, setTold);
      if (answer) accept(answer, changedFields(latest.current.view, answer));
      return answer;
    },
  };
}

/** Changes with one more; what goes on in the last field goes on with its change. */
function withChange(all: PlanChange[], change: PlanChange): PlanChange[] {
  const last = all.at(-1);
  return last?.field === change.field && change.at - last.at < ONE_CHANGE_MS
    ? [...all.slice(0, -1), { ...last, at: change.at }]
    : [...all, change];
}

/** What stands in a field of a plan or of one of its specimens. */
function standing(view: PlanView, field: string): unknown {
  const of = /^specimen:(\d+):(\w+)$/.exec(field);
  if (!of) return view.plan[field as PlanKey];
  return view.context.specimens.find((s) => s.id === Number(of[1]))?.plan[of[2] as keyof SpecimenPlan];
}

const valid = (
  drafts: Record<string, Draft>,
  errors: Record<string, string>,
  name: (field: string) => string | null,
): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(drafts).flatMap(([f, d]) => {
      const own = name(f);
      return own === null || errors[f] || !d.judged ? [] : [[own, d.value]];
    }),
  );

function withDrafts(context: PlanContext, drafts: Record<string, Draft>, errors: Record<string, string>): PlanContext {
  if (!Object.keys(drafts).some((f) => f.startsWith('specimen:'))) return context;
  return {
    ...context,
    specimens: context.specimens.map((s) => ({
      ...s,
      plan: {
        ...s.plan,
        ...valid(drafts, errors, (f) => (f.startsWith(`specimen:${s.id}:`) ? f.slice(`specimen:${s.id}:`.length) : null)),
      },
    })),
  };
}

/** Fields and parts in which two views of a plan differ, by name. */
function changedFields(before: PlanView, next: PlanView): string[] {
  const differs = (a: unknown, b: unknown) => JSON.stringify(a ?? null) !== JSON.stringify(b ?? null);
  const keys = new Set([...Object.keys(before.plan), ...Object.keys(next.plan)]);
  const fields = [...keys].filter((k) => differs(before.plan[k as keyof StudyPlan], next.plan[k as keyof StudyPlan]));
  const places = (v: PlanView) => v.mounts.map(({ specimen, mount, rig, day, state }) => [specimen, mount, rig, day, state]);
  if (differs(places(before), places(next))) fields.push('order');
  for (const s of next.context.specimens) {
    const old = before.context.specimens.find((o) => o.id === s.id);
    if (!old) fields.push('specimens');
    else
      fields.push(
        ...Object.keys({ ...old.plan, ...s.plan }).flatMap((k) =>
          differs(old.plan[k as keyof SpecimenPlan], s.plan[k as keyof SpecimenPlan]) ? [`specimen:${s.id}:${k}`] : [],
        ),
      );
  }
  if (before.context.specimens.some((o) => !next.context.specimens.some((s) => s.id === o.id))) fields.push('specimens');
  return [...new Set(fields)];
}

/** What changed elsewhere, in words. */
export const elsewhereWords = ({ elsewhere, context, fields }: PlanDesk): string =>
  elsewhere.map((f) => fieldName(f, context, fields)).join(', ');
