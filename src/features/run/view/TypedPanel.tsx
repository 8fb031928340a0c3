import { useState } from 'react';
import { TYPED_QUANTITIES } from '#core/signal/reduce/typedReading';
import { STEP_ENDS } from '#core/stability/ladder';
import type { TypedAsked } from '#features/run/model/typedAsked';
import { TYPED_FIELDS, type TypedValues, valuesProblem, withoutEmpty } from '#features/run/model/typedRun';
import type { JudgementView } from '#features/run/server/judge';
import { Alert, Field, Quiet, TextBox } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { useSeen } from '#ui/useSeen';
import { Facts } from '#ui/Words.tsx';
import { TypedFields } from './import/TypedFields.tsx';
import { localMinute } from './import/types';
import { JudgePanel } from './JudgePanel.tsx';
import { stepWords } from './LadderFields.tsx';
import { newestChange, useJudgement } from './useJudgement';

interface TypedPanelProps {
  runId: number;
  typed: TypedValues;
  asked: TypedAsked;
  /** under which of the study's loads it was made */
  load: string | null;
  /** when it was read, ISO 8601; empty where that is not known */
  at: string;
  judgement: JudgementView;
}

/** What was read from a display for a run, and its correction; what was typed before stays in the history. */
export function TypedPanel({ judgement, ...reading }: TypedPanelProps) {
  const { runId, typed } = reading;
  const [editing, setEditing] = useState(false);
  const desk = useJudgement(runId, judgement);
  if (editing) return <Correction {...reading} newest={newestChange(desk.view)} onClose={() => setEditing(false)} />;
  return (
    <div>
      <Facts className="grid gap-x-10 sm:grid-cols-2" facts={typedFacts(typed)} />
      {typed.note && <p className="mt-2 max-w-2xl">{typed.note}</p>}
      <Quiet className="mt-3" onClick={() => setEditing(true)}>
        Correct the readings
      </Quiet>
      <JudgePanel desk={desk} hand={null} onHand={() => {}} duration_s={0} />
    </div>
  );
}

/** What was typed, as it was typed. */
const typedFacts = ({ texts, throttled, parts = [], events = [], ladder = [] }: TypedValues): { name: string; value: string }[] => [
  ...TYPED_FIELDS.flatMap((f) => (texts[f]?.trim() ? [{ name: TYPED_QUANTITIES[f].label, value: texts[f] ?? '' }] : [])),
  ...parts.map((p) => ({ name: p.name, value: p.text ?? '' })),
  ...ladder.map((s) => ({
    name: stepWords(s),
    value: [STEP_ENDS[s.end].toLowerCase(), s.temperature, s.held && `held ${s.held}`].filter(Boolean).join(', '),
  })),
  ...events.map((e) => ({ name: e.event, value: e.reached ? (e.time ?? '') : `not reached after ${e.time}` })),
  ...(ladder.length > 0
    ? []
    : [{ name: 'Throttled', value: throttled === undefined || throttled === 'unknown' ? 'not known' : throttled }]),
];

const plannedSteps = ({ ladders }: TypedAsked, load: string | null) => (ladders.find((l) => l.load === load) ?? ladders[0])?.steps ?? [];

type CorrectionProps = Omit<TypedPanelProps, 'judgement'> & { newest: number; onClose: () => void };

function Correction({ runId, typed, asked, load, at: before, newest, onClose }: CorrectionProps) {
  const [values, setValues] = useState(typed);
  const [at, setAt] = useState(() => (before ? localMinute(new Date(before)) : ''));
  const [reason, setReason] = useState('');
  const [told, setTold] = useState<string | null>(null);
  const problem = valuesProblem(values);
  const { seen, refused } = useSeen(newest);
  const save = async () => {
    const who = localStorage.getItem('initials') ?? '';
    const read_at = at ? new Date(at).toISOString() : undefined;
    const body = { ...withoutEmpty(values), read_at, reason, who, seen: seen() };
    if (await sendJson('PUT', `/api/runs/${runId}/typed`, body, setTold, refused)) window.location.reload();
  };
  return (
    <form
      className="flex max-w-4xl flex-col gap-4"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <Field label="Read on">
        {(p) => <input {...p} type="datetime-local" className="field figure" value={at} onChange={(e) => setAt(e.target.value)} />}
      </Field>
      <TypedFields values={values} asked={asked} ladder={typed.ladder ? plannedSteps(asked, load) : null} onValues={setValues} />
      <TextBox
        label="Reason for the correction"
        hint="stays in the history of this run, with what was typed before"
        maxLength={500}
        value={reason}
        onChange={setReason}
      />
      <Alert className="">{problem ?? told}</Alert>
      <div className="flex gap-3">
        <button type="submit" className="act" disabled={problem !== null}>
          Save readings
        </button>
        <Quiet onClick={onClose}>Cancel</Quiet>
      </div>
    </form>
  );
}
