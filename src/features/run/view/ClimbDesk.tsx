import { useRef, useState } from 'react';
import { highestClock, ladderVoltages, STEP_ENDS, type StepEnd } from '#core/stability/ladder';
import { isSameStep, nextStep } from '#features/run/model/climb';
import { readLadder } from '#features/run/model/ladderFile';
import { type TypedStep, textProblem, typedMore } from '#features/run/model/typedRun';
import type { ClimbView } from '#features/run/server/climb';
import type { LadderStep } from '#features/study/model/loads';
import { Act, Alert, Options, Quiet, TextBox, TextButton } from '#ui/Form.tsx';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { sendJson } from '#ui/send';
import { useStopwatch } from '#ui/useStopwatch';
import { parseTable } from './import/parseTable';
import { allSteps, stepWords } from './LadderFields.tsx';

/** The climbs of a mount, what is looked at of them, and the writing of a step. */
function useClimb(initial: ClimbView) {
  const [view, setView] = useState(initial);
  const [load, setLoad] = useState(initial.ladders[0]?.load ?? '');
  const [fresh, setFresh] = useState(false);
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const importId = useRef('');
  const plan = view.ladders.find((l) => l.load === load);
  const climbs = view.climbs.filter((c) => (c.load ?? view.ladders[0]?.load) === load);
  const climb = fresh ? null : (climbs.at(-1) ?? null);
  const write = async (steps: TypedStep[], taken_back: LadderStep[] = []) => {
    // a beginning that is sent twice is one
    if (importId.current === '' || climb) importId.current = crypto.randomUUID();
    setBusy(true);
    const body = { load, run_id: climb?.run_id ?? null, import_id: importId.current, steps, taken_back };
    const answer = await sendJson<ClimbView>('PUT', `/api/mounts/${view.mount.id}/ladder`, body, setTold);
    setBusy(false);
    if (answer) {
      setView(answer);
      setFresh(false);
    }
    return answer !== null;
  };
  return { view, load, setLoad, plan, climbs, climb, begin: () => setFresh(true), write, told, tell: setTold, busy };
}

/** A ladder as it is climbed: the step at hand in large letters, four buttons for how it ended, and all steps below. */
export function ClimbDesk({ initial }: { initial: ClimbView }) {
  const desk = useClimb(initial);
  const { view, plan, climb, climbs } = desk;
  const [chosen, setChosen] = useState<LadderStep | null>(null);
  const [temperature, setTemperature] = useState('');
  const watch = useStopwatch();
  const tried = climb?.steps ?? [];
  const steps = allSteps(plan?.steps ?? [], tried);
  const step = chosen ?? nextStep(plan?.steps ?? [], tried);
  const { mount } = view;
  const problem = textProblem('mean_c', temperature) ?? textProblem('run_time_s', watch.text);
  const end = async (how: StepEnd) => {
    if (!step) return;
    const held = watch.text.trim();
    const entered = { clock_mhz: step.clock_mhz, voltage_v: step.voltage_v ?? null, end: how };
    const kept = await desk.write([
      { ...entered, ...(temperature.trim() ? { temperature: temperature.trim() } : {}), ...(held ? { held } : {}) },
    ]);
    if (!kept) return;
    setChosen(null);
    setTemperature('');
    watch.clear();
  };
  return (
    <div className="mx-auto max-w-3xl pt-4">
      <p className="flex flex-wrap items-center gap-x-3">
        <SpecimenMark position={mount.position} size={7} />
        <a href={`/mounts/${mount.id}`} className="text-title font-semibold">
          {mount.specimen}, mount {mount.number}
        </a>
        <span className="text-soft">
          {mount.rig} ·{' '}
          <a href={`/studies/${mount.study_id}/results`} className="underline">
            {mount.study}
          </a>
        </span>
      </p>
      {view.ladders.length > 1 && (
        <label className="mt-3 block">
          <span className="block text-note text-soft">Ladder</span>
          <select className="field" value={desk.load} onChange={(e) => desk.setLoad(e.target.value)}>
            {view.ladders.map((l) => (
              <option key={l.load}>{l.load}</option>
            ))}
          </select>
        </label>
      )}
      {!plan && (
        <p className="mt-6">
          No load of this study is a ladder. Add its steps to a load on{' '}
          <a href={`/studies/${mount.study_id}/plan`} className="underline">
            the plan
          </a>
          .
        </p>
      )}
      {plan && !step && <Climbed desk={desk} />}
      {plan && step && (
        <section aria-label="Current step" className="mt-5">
          <h1 className="leading-none">
            <span className="figure text-[3.25rem] font-semibold">{step.clock_mhz}</span> <span className="text-title">MHz</span>
            {step.voltage_v != null && (
              <span className="text-title">
                {' '}
                at <span className="figure font-semibold">{step.voltage_v}</span> V
              </span>
            )}
          </h1>
          <p className="mt-1 text-soft">
            Step {steps.findIndex((s) => isSameStep(s, step)) + 1} of {steps.length}
            {plan.held_min !== null && `, held for ${plan.held_min} min`}
            {climbs.length > 1 && climb && `, climb ${climbs.indexOf(climb) + 1} of this mount`}
          </p>
          <div className="mt-4 grid grid-cols-2 gap-3">
            <TextBox
              label="Temperature / °C"
              hint="where you read it"
              className="figure min-h-12"
              maxLength={60}
              value={temperature}
              error={textProblem('mean_c', temperature) ?? undefined}
              onChange={setTemperature}
            />
            <div>
              <TextBox
                label="Held / s or min:s"
                className="figure min-h-12"
                maxLength={60}
                value={watch.text}
                error={textProblem('run_time_s', watch.text) ?? undefined}
                onChange={watch.set}
              />
              <TextButton className="min-h-11" onClick={watch.isRunning ? watch.stop : watch.start}>
                {watch.isRunning ? 'Stop the watch' : 'Start the watch'}
              </TextButton>
            </div>
          </div>
          <div className="mt-3 grid grid-cols-2 gap-3">
            {(Object.keys(STEP_ENDS) as StepEnd[]).map((how) => (
              <button
                key={how}
                type="button"
                disabled={desk.busy || problem !== null}
                className={`min-h-20 border-2 text-name font-semibold hover:bg-band disabled:text-soft ${how === 'passed' ? 'border-ink bg-ink text-paper hover:text-ink' : 'border-ember'}`}
                onClick={() => void end(how)}
              >
                {STEP_ENDS[how]}
              </button>
            ))}
          </div>
        </section>
      )}
      <Alert className="mt-3">{desk.told}</Alert>
      {plan && <StepRows desk={desk} steps={steps} at={step} onChoose={setChosen} />}
      {plan && <LadderFile desk={desk} />}
    </div>
  );
}

type Desk = ReturnType<typeof useClimb>;

/** How far the climb came, at each voltage. */
function reachedSoFar(steps: TypedStep[]): string {
  const { ladder = [] } = typedMore({ ladder: steps });
  return ladderVoltages(ladder)
    .map((v) => {
      const reached = highestClock(ladder, v);
      const at = v === null ? '' : ` at ${v} V`;
      if (!reached || reached.value === null) return `nothing passed${at}`;
      return `${reached.beyond ? 'at least ' : ''}${reached.value} MHz${at}${reached.not_monotone ? ' (a step passed above one that did not)' : ''}`;
    })
    .join(', ');
}

/** What there is to do once no step is left. */
const Climbed = ({ desk: { climb, begin, view } }: { desk: Desk }) => (
  <section className="mt-5" aria-live="polite">
    <h1 className="text-verdict leading-tight font-semibold">Highest passing clock: {reachedSoFar(climb?.steps ?? [])}</h1>
    <p className="mt-4 flex flex-wrap gap-4">
      <NextMount view={view} />
      <a href={`/studies/${view.mount.study_id}/results`} className="quiet">
        Results
      </a>
      <Quiet onClick={begin}>Climb again on this mount</Quiet>
    </p>
  </section>
);

/** The next mount, opened from here: the cooler was lifted and put on again, of the same specimen or another. */
function NextMount({ view: { mount, specimens } }: { view: ClimbView }) {
  const [specimen, setSpecimen] = useState(mount.specimen_id);
  const [told, setTold] = useState<string | null>(null);
  const begin = async () => {
    const given = { specimen_id: specimen, rig_id: mount.rig_id, made: true };
    const made = await sendJson<{ id: number }>('POST', `/api/studies/${mount.study_id}/mounts`, given, setTold);
    if (made) window.location.assign(`/mounts/${made.id}/ladder`);
  };
  return (
    <span className="flex flex-wrap items-end gap-3">
      <label>
        <span className="block text-note text-soft">Mounted next</span>
        <select className="field" value={specimen} onChange={(e) => setSpecimen(Number(e.target.value))}>
          <Options choices={specimens.map((s) => [s.id, s.name] as const)} />
        </select>
      </label>
      <Act onClick={() => void begin()}>Climb its next mount</Act>
      {told && <Alert>{told}</Alert>}
    </span>
  );
}

/** All steps with how they ended; one is taken to be tried, corrected or taken back. */
function StepRows({
  desk,
  steps,
  at,
  onChoose,
}: {
  desk: Desk;
  steps: LadderStep[];
  at: LadderStep | null;
  onChoose: (s: LadderStep) => void;
}) {
  const tried = desk.climb?.steps ?? [];
  const last = steps.at(-1);
  const next = last && {
    clock_mhz: last.clock_mhz + (last.clock_mhz - (steps.at(-2)?.clock_mhz ?? last.clock_mhz - 25)),
    voltage_v: last.voltage_v,
  };
  return (
    <section className="mt-8" aria-label="All steps">
      {tried.length > 0 && at && <p className="mb-2">So far: {reachedSoFar(tried)}.</p>}
      <ol>
        {steps.map((s) => {
          const known = tried.find((t) => isSameStep(t, s));
          const isAt = at !== null && isSameStep(at, s);
          return (
            <li key={stepWords(s)} className={`flex flex-wrap items-center gap-x-4 border-b border-rule ${isAt ? 'bg-band' : ''}`}>
              <button
                type="button"
                className="figure min-h-11 min-w-36 px-2 text-left underline decoration-soft underline-offset-4"
                aria-current={isAt ? 'step' : undefined}
                onClick={() => onChoose(s)}
              >
                {stepWords(s)}
              </button>
              <span className={known && known.end !== 'passed' ? 'font-semibold text-ember' : known ? 'font-semibold' : 'text-soft'}>
                {known ? STEP_ENDS[known.end] : 'not tried'}
              </span>
              <span className="figure text-soft">
                {[
                  known?.temperature && withUnit(known.temperature, '°C'),
                  known?.held && withUnit(known.held, known.held.includes(':') ? 'min' : 's'),
                ]
                  .filter(Boolean)
                  .join(', ')}
              </span>
              {known && tried.length > 1 && (
                <TextButton
                  className="ml-auto min-h-11 px-2 text-note"
                  aria-label={`Delete ${stepWords(s)}`}
                  onClick={() => void desk.write([], [{ clock_mhz: s.clock_mhz, voltage_v: s.voltage_v ?? null }])}
                >
                  Take back
                </TextButton>
              )}
            </li>
          );
        })}
      </ol>
      {next && next.clock_mhz > 0 && (
        <Quiet className="mt-3" onClick={() => onChoose(next)}>
          Try {stepWords(next)} too
        </Quiet>
      )}
    </section>
  );
}

const withUnit = (text: string, unit: string): string => (/[^\d.,:\s]/.test(text) ? text : `${text} ${unit}`);

/** Steps from a results file, stored as it is read. */
function LadderFile({ desk }: { desk: Desk }) {
  const file = useRef<HTMLInputElement>(null);
  const [read, setRead] = useState<{ name: string; steps: TypedStep[] } | null>(null);
  const take = async (given: File | undefined) => {
    setRead(null);
    if (!given) return;
    if (given.size > MOST_FILE_BYTES) {
      desk.tell(`${given.name} has over 1 MB; a table of up to 200 steps is far smaller.`);
      return;
    }
    const steps = readLadder(parseTable(await given.text()));
    desk.tell(typeof steps === 'string' ? `${given.name}: ${steps}` : null);
    if (typeof steps !== 'string') setRead({ name: given.name, steps });
    if (file.current) file.current.value = '';
  };
  return (
    <section className="mt-8 border-t border-rule pt-3" aria-label="Results file">
      <p className="flex flex-wrap items-center gap-3">
        <Quiet onClick={() => file.current?.click()}>Read results file</Quiet>
        <span className="text-soft">a table with clock, voltage and result (passed, failed, hung, did not start)</span>
        <input
          ref={file}
          type="file"
          accept=".csv,.txt,.tsv"
          className="sr-only"
          tabIndex={-1}
          aria-label="Results file of the ladder"
          onChange={(e) => void take(e.target.files?.[0])}
        />
      </p>
      {read && (
        <div className="mt-3">
          <p>
            {read.name} holds {read.steps.length} steps:{' '}
            {read.steps.map((s) => `${stepWords(s)} ${STEP_ENDS[s.end].toLowerCase()}`).join('; ')}.
          </p>
          <button
            type="button"
            className="act mt-2"
            disabled={desk.busy}
            onClick={async () => {
              if (await desk.write(read.steps)) setRead(null);
            }}
          >
            Store these steps
          </button>
        </div>
      )}
    </section>
  );
}

const MOST_FILE_BYTES = 1024 * 1024;
