import { useState } from 'react';
import type { Finding } from '#core/compare/types';
import type { Alternative } from '#core/signal/reduce/types';
import { write } from '#core/text/words';
import type { Decided } from '#features/run/server/decide';
import { findingName } from '#ui/FindingList.tsx';
import { Alert, Field, TextBox, Tick } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { useSeen } from '#ui/useSeen';

interface DecisionPanelProps {
  runId: number;
  /** the newest entry of its journal */
  newest: number;
  /** findings that wait for a person */
  findings: Finding[];
  rise_k: number | null;
  alternatives: Alternative[];
  /** probes of the room by name */
  probes: string[];
  /** other runs of the study and load that wait for the same */
  same: number;
}

type Way = { key: string; words: string; rise_k: number | null; body: object | null };

/** The ways to settle what a run waits for, each with the value it would give. */
function waysOf({ findings, rise_k, alternatives, probes }: DecisionPanelProps): Way[] {
  const codes = findings.map((f) => f.code);
  const ofRoom = codes.some((c) => c.startsWith('ambient_') || c === 'rise_impossible' || c === 'unit_suspect');
  const without = alternatives.flatMap((a) =>
    a.without === null
      ? []
      : [
          {
            key: `without ${a.without}`,
            words: `Leave ${a.without} out`,
            rise_k: a.rise_k,
            body: { ambient_probes: probes.filter((p) => p !== a.without) },
          },
        ],
  );
  const inF = alternatives.find((a) => a.with?.endsWith('in °F') && !a.with.startsWith('all'));
  return [
    ...without,
    ...(inF
      ? [
          {
            key: 'in °F',
            words: `Read ${inF.with}`,
            rise_k: inF.rise_k,
            body: { units: Object.fromEntries(probes.map((p) => [p, 'degF'])) },
          },
        ]
      : []),
    ...(ofRoom ? [{ key: 'typed', words: 'Type the room temperature', rise_k: null, body: null }] : []),
    { key: 'accept', words: 'Accept it as it is', rise_k, body: { accept: codes } },
  ];
}

/** What the decision holds as it is worked on, and what follows from it. */
function useDecision(props: DecisionPanelProps) {
  const { runId, newest, findings, same } = props;
  const { seen, refused } = useSeen(newest);
  const ways = waysOf(props);
  const [way, setWay] = useState<string | null>(null);
  const [room, setRoom] = useState('');
  const [uncertainty, setUncertainty] = useState('0.5');
  const [reason, setReason] = useState('');
  const [all, setAll] = useState(false);
  const [busy, setBusy] = useState(false);
  const [told, setTold] = useState<string | null>(null);
  const chosen = ways.find((w) => w.key === way);
  const number = (text: string) => Number(text.trim().replace(',', '.').replace('−', '-'));
  const typed = way === 'typed' ? { room_c: number(room), room_u_k: number(uncertainty) } : null;
  const isTyped = typed === null || (room.trim() !== '' && Number.isFinite(typed.room_c) && typed.room_u_k >= 0);
  const decide = async () => {
    setBusy(true);
    const from = { who: localStorage.getItem('initials') ?? '', seen: seen() };
    const body = { ...(typed ?? chosen?.body), reason, covers: all ? 'load' : 'run', ...from };
    const done = await sendJson<Decided>('POST', `/api/runs/${runId}/decision`, body, setTold, refused);
    setBusy(false);
    if (done) globalThis.location.reload();
  };
  return {
    ...{ findings, decide, ways, way, setWay, room, setRoom, uncertainty, setUncertainty, reason, setReason, same, all },
    ...{ setAll, busy, isTyped, told },
  };
}
type Decision = ReturnType<typeof useDecision>;

/** What a run needs decided, and what settles it. */
export function DecisionPanel(props: DecisionPanelProps) {
  const decision = useDecision(props);
  const { findings, decide, ways, way, setWay, told } = decision;
  return (
    <section className="mt-4 border-l-4 border-ember pl-4" aria-labelledby="decision">
      <h2 id="decision" className="text-title font-semibold">
        Needs your decision
      </h2>
      <p className="max-w-3xl">It is stored, and left out of all means until you decide.</p>
      <ul className="mt-2 max-w-3xl">
        {findings.map((f) => (
          <li key={f.code + f.message} className="py-1">
            <span className="font-semibold">{findingName(f.code)}.</span> {f.message}
          </li>
        ))}
      </ul>
      <form
        className="mt-3 max-w-3xl"
        onSubmit={(e) => {
          e.preventDefault();
          void decide();
        }}
      >
        <fieldset>
          <legend className="font-semibold">Decision</legend>
          {ways.map((w) => (
            <label key={w.key} className="flex items-baseline justify-between gap-6 border-b border-rule py-2">
              <span className="flex items-baseline gap-2">
                <input type="radio" name="way" checked={way === w.key} onChange={() => setWay(w.key)} />
                {w.words}
              </span>
              {w.rise_k !== null && <span className="figure font-semibold">{write(w.rise_k, 1)} K</span>}
            </label>
          ))}
        </fieldset>
        {way === 'typed' && <RoomFields decision={decision} />}
        {way !== null && <ReasonFields decision={decision} />}
        <Alert>{told}</Alert>
      </form>
    </section>
  );
}

/** The room as a person knows it. */
const RoomFields = ({ decision: { room, setRoom, uncertainty, setUncertainty } }: { decision: Decision }) => (
  <div className="mt-3 flex flex-wrap gap-4">
    <Field label="Room / °C">
      {(p) => <input {...p} className="field figure w-28" inputMode="decimal" value={room} onChange={(e) => setRoom(e.target.value)} />}
    </Field>
    <Field label="Uncertainty / K" hint="standard uncertainty of the thermometer">
      {(p) => (
        <input
          {...p}
          className="field figure w-28"
          inputMode="decimal"
          value={uncertainty}
          onChange={(e) => setUncertainty(e.target.value)}
        />
      )}
    </Field>
  </div>
);

/** Why, and for which runs. */
const ReasonFields = ({ decision: { reason, setReason, same, all, setAll, busy, isTyped } }: { decision: Decision }) => (
  <div className="mt-3">
    <TextBox label="Why" hint="kept in the run's history and printed in the report" maxLength={500} value={reason} onChange={setReason} />
    {same > 0 && (
      <Tick
        words={`Also for the ${same === 1 ? 'other run' : `${same} other runs`} of this load that ${same === 1 ? 'waits' : 'wait'} for the same`}
        className="mt-2"
        checked={all}
        onChange={setAll}
      />
    )}
    <button type="submit" className="act mt-3" disabled={busy || reason.trim() === '' || !isTyped}>
      {busy ? 'Reading it again …' : 'Save decision'}
    </button>
  </div>
);
