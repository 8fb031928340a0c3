import { useEffect, useState } from 'react';
import { write } from '#core/text/words';
import type { AgentView, MeasureView } from '#features/live/server/agents';
import { Alert, ChoiceBox, Field, Quiet, TextBox } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { Table } from '#ui/Table.tsx';

const LOOK_MS = 1500;
const NEW = '';

/** From a machine with nothing written down about it to its first live run: start its agent, say what is mounted, begin. */
export function MeasureDesk({ view }: { view: MeasureView }) {
  const { agents, problem } = useAgents(view.agents);
  const [chosen, setChosen] = useState<string | null>(null);
  const agent = agents.find((a) => a.key === chosen) ?? (agents.length === 1 ? agents[0] : null);
  return (
    <div className="mt-6 grid gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <div>
        <AgentLine agents={agents} />
        {problem && <Alert className="mt-4">{problem}</Alert>}
        {agents.length > 1 && (
          <div className="mt-6 max-w-md">
            <ChoiceBox
              label="Machine"
              value={agent?.key ?? ''}
              choices={[...(agent ? [] : [['', 'Choose a machine'] as const]), ...agents.map((a) => [a.key, a.name] as const)]}
              onChange={setChosen}
            />
          </div>
        )}
        {agent && (agent.live ? <Busy agent={agent} /> : <BeginForm key={agent.key} agent={agent} studies={view.studies} />)}
      </div>
      {agent && <Readings agent={agent} />}
    </div>
  );
}

/** Machines that are there, asked for again and again. */
function useAgents(first: AgentView[]): { agents: AgentView[]; problem: string | null } {
  const [agents, setAgents] = useState(first);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    const timer = setInterval(async () => {
      const answer = await fetch('/api/agents').catch(() => null);
      if (!answer?.ok) return setProblem('The server does not answer; what you entered is still here.');
      setProblem(null);
      setAgents(((await answer.json()) as { agents: AgentView[] }).agents);
    }, LOOK_MS);
    return () => clearInterval(timer);
  }, []);
  return { agents, problem };
}

/** The line that starts the agent; folded away once it is heard. */
function AgentLine({ agents }: { agents: AgentView[] }) {
  if (agents.length === 0)
    return (
      <section aria-labelledby="agent">
        <h2 id="agent" className="text-title font-semibold">
          Start the agent on the machine under test
        </h2>
        <p className="mt-1">
          It reads the temperatures, power, fans and clock that Linux tells, and loads the processor when a run asks for it. It needs
          Node.js 18 or newer.
        </p>
        <Line />
        <p role="status" className="mt-3 text-soft">
          Waiting for the agent …
        </p>
      </section>
    );
  return (
    <section aria-labelledby="agent">
      <h2 id="agent" className="text-title font-semibold">
        {agents.length === 1 ? `${agents[0].name} is ready` : `${agents.length} machines are there`}
      </h2>
      <details className="mt-1">
        <summary className="cursor-pointer underline decoration-soft">Start the agent on another machine</summary>
        <Line />
      </details>
    </section>
  );
}

function Line() {
  const [origin, setOrigin] = useState('');
  const [copied, setCopied] = useState(false);
  useEffect(() => setOrigin(window.location.origin), []);
  const line = `curl -O ${origin}/agent.mjs && node agent.mjs --server ${origin} --load threads`;
  const port = origin === '' ? '' : new URL(origin).port || '80';
  const copy = () => navigator.clipboard.writeText(line).then(() => setCopied(true));
  return (
    <>
      <pre className="figure mt-3 overflow-x-auto border border-rule bg-band px-4 py-3 whitespace-pre-wrap">
        <code>{line}</code>
      </pre>
      <div className="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1">
        <Quiet onClick={() => void copy()}>Copy the line</Quiet>
        <span role="status" className="text-soft">
          {copied && 'Copied.'}
        </span>
      </div>
      <p className="mt-3 text-soft">
        A machine elsewhere reaches this one through <code className="figure">{`ssh -R ${port}:127.0.0.1:${port} MACHINE`}</code>; run the
        line there. Without <code className="figure">--load</code> the agent only reads. On other systems a program writes a log, and{' '}
        <code className="figure">--tail FILE</code> sends it.
      </p>
    </>
  );
}

const Busy = ({ agent }: { agent: AgentView }) => (
  <p className="mt-6 text-name font-semibold">
    A run goes on on {agent.name}. <a href={`/live/${agent.live}`}>Open it</a>
  </p>
);

/** What is mounted, and how it is loaded. */
function BeginForm({ agent, studies }: { agent: AgentView; studies: MeasureView['studies'] }) {
  const [values, setValues] = useState({
    ...{
      study: studies[0] ? String(studies[0].id) : NEW,
      title: `${agent.name}: which paste`,
      specimen: '',
      room: '',
      runs: '1',
      idle: '2',
      load: '60',
      who: '',
    },
    ...{ hold: agent.hold_w === null ? '' : String(agent.hold_w), limit: String(agent.limit_c ?? 95) },
  });
  const [told, setTold] = useState<string | null>(null);
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const set = (key: keyof typeof values) => (text: string) => setValues((v) => ({ ...v, [key]: text }));
  const has = (role: string) => agent.channels.some((c) => c.role === role);
  const study = studies.find((s) => String(s.id) === values.study);
  const begin = async () => {
    setBusy(true);
    setWrong('');
    const refused: { field?: unknown } = {};
    const body = {
      agent: agent.key,
      ...(study ? { study_id: study.id } : { study_title: values.title, idle_min: number(values.idle) }),
      load_min: number(values.load),
      ...{ specimen: values.specimen, who: values.who, runs: number(values.runs) },
      ...(agent.can_load ? { hold_w: number(values.hold), limit_c: number(values.limit) } : {}),
      ...(has('ambient') ? {} : { room_c: number(values.room) }),
    };
    const done = await sendJson<{ live: number }>('POST', '/api/agents/measure', body, setTold, (b) => Object.assign(refused, b));
    if (done) window.location.assign(`/live/${done.live}`);
    else {
      setBusy(false);
      setWrong(String(refused.field ?? ''));
    }
  };
  const error = (field: string) => (wrong === field ? (told ?? undefined) : undefined);
  const figure = (key: keyof typeof values, label: string, field: string, hint?: string, disabled = false) => (
    <TextBox
      {...{ label, hint, disabled }}
      inputMode="decimal"
      className="figure"
      value={values[key]}
      error={error(field)}
      onChange={set(key)}
    />
  );
  const named = ['study_title', 'specimen', 'room_c', 'hold_w', 'limit_c', 'runs', 'idle_min', 'load_min'];
  return (
    <form
      aria-label="Begin a run"
      className="section-rule mt-8"
      onSubmit={(e) => {
        e.preventDefault();
        void begin();
      }}
    >
      <h2 className="text-title font-semibold">What is mounted</h2>
      <div className="mt-3 grid max-w-2xl gap-x-6 gap-y-4 sm:grid-cols-2">
        {studies.length > 0 && (
          <ChoiceBox
            label="Study"
            value={values.study}
            choices={[...studies.map((s) => [String(s.id), s.title] as const), [NEW, 'A new study']]}
            onChange={set('study')}
          />
        )}
        {!study && (
          <TextBox label="Title of the study" value={values.title} maxLength={200} error={error('study_title')} onChange={set('title')} />
        )}
        <Field
          label="Material under the cooler"
          hint={study ? 'A name of the study adds a mount to it; another adds a specimen.' : 'Such as Loam White.'}
          error={error('specimen')}
        >
          {(p) => (
            <>
              <input
                {...p}
                className="field w-full"
                list="specimens"
                maxLength={80}
                value={values.specimen}
                onChange={(e) => set('specimen')(e.target.value)}
              />
              <datalist id="specimens">
                {study?.specimens.map((s) => (
                  <option key={s} value={s} />
                ))}
              </datalist>
            </>
          )}
        </Field>
        {!has('ambient') && figure('room', 'Room temperature / °C', 'room_c', 'Read beside the intake, out of the exhaust.')}
        {figure('runs', 'Runs on this mount', 'runs')}
        {!study && figure('idle', 'Rest before the load / min', 'idle_min')}
        {figure('load', 'Load at most / min', 'load_min', 'It ends sooner, when the readings are steady.')}
        {agent.can_load && (
          <>
            {has('power')
              ? figure('hold', 'Power to hold / W', 'hold_w', 'The same for every mount. Empty: all the load there is.')
              : figure('hold', 'Power to hold / W', 'hold_w', 'This machine tells no power, so it is loaded fully.', true)}
            {figure('limit', 'Ends the load at / °C', 'limit_c')}
          </>
        )}
        <TextBox label="Your initials" value={values.who} maxLength={20} onChange={set('who')} />
      </div>
      {!agent.can_load && (
        <p className="mt-3">The agent was started without a load: start the load of your own when the run asks for it.</p>
      )}
      {told && !named.includes(wrong) && <Alert className="mt-4">{told}</Alert>}
      <div className="mt-5 flex items-center gap-4">
        <button type="submit" disabled={busy} className="act min-h-11 px-6 text-name">
          Go to pre-flight check
        </button>
      </div>
    </form>
  );
}

const number = (text: string): number | string | null => {
  const plain = text.trim().replace(',', '.');
  if (plain === '') return null;
  return Number.isFinite(Number(plain)) ? Number(plain) : text;
};

const ROLE_WORDS: Record<string, string> = {
  sensor: 'the part',
  ambient: 'room',
  part: 'another part',
  ignore: 'kept aside',
  load: 'load',
  fan: 'fan',
  power: 'power',
  clock: 'clock',
  throttle: 'throttling',
};

/** A reading with its unit, in the digits that it has. */
function nowOf({ now, unit, role }: AgentView['channels'][number]): string {
  if (now === null) return '–';
  if (role === 'throttle') return now > 0 ? 'yes' : 'no';
  return `${write(now, unit === 'V' ? 3 : unit === 'MHz' || unit === 'rpm' ? 0 : 1)}${unit ? ` ${unit}` : ''}`;
}

/** What the machine reads now. */
const Readings = ({ agent }: { agent: AgentView }) => (
  <section aria-labelledby="readings">
    <h2 id="readings" className="text-title font-semibold">
      {agent.name} reads
    </h2>
    <Table
      label={`What ${agent.name} reads`}
      rows={agent.channels}
      keyOf={(c) => c.name}
      columns={[
        { head: 'Channel', cell: (c) => c.name },
        { head: 'Is', cell: (c) => ROLE_WORDS[c.role] ?? c.role },
        {
          head: 'Now',
          figure: true,
          cell: nowOf,
        },
      ]}
    />
  </section>
);
