import { useId, useState } from 'react';
import { MAX_LOG_BYTES } from '#core/signal/logs/decode';
import { keepUnits, write } from '#core/text/words';
import type { StepLayer, TransientOptions } from '#core/thermal/transient/types';
import { partingNotes, partingWords, structureSentence, writeInterval, writeResistance } from '#features/tools/model/transientWords';
import type { StepRun } from '#features/tools/server/stepRuns';
import { Alert, ChoiceBox, NumberBox, numberWithin, Options, Quiet } from '#ui/Form.tsx';
import { Table } from '#ui/Table.tsx';
import { CheckedLink, Section } from '#ui/Words.tsx';
import { StructureChart } from './StructureChart.tsx';
import type { TransientAnswer, TransientSource } from './transient.worker';
import { useTransient } from './useTransient';

const STEPS = [
  ['heating', 'Heating, as the load comes on'],
  ['cooling', 'Cooling, as the load goes off'],
] as const;
const POWERS = [
  ['log', 'as logged'],
  ['typed', 'typed, for a log without power'],
] as const;

/** Layers between a sensor and the room, from one step of power; and where two mounts of one body part. */
export function TransientTool({ runs }: { runs: StepRun[] }) {
  const [first, setFirst] = useState<TransientSource | null>(null);
  const [second, setSecond] = useState<TransientSource | null>(null);
  const [step, setStep] = useState<TransientOptions['step']>('heating');
  const [sensor, setSensor] = useState('');
  const [power, setPower] = useState('');
  const { answer, told, problem, ask, stop } = useTransient();
  const [asked, setAsked] = useState<[string, string]>(['', '']);
  const readable = power === '' || numberWithin(power, 0.1, 10_000) !== null;
  const begin = () => {
    if (!first) return;
    setAsked(first.name === second?.name ? ['The first', 'the second'] : [first.name, second?.name ?? '']);
    void ask(second ? [first, second] : [first], { step, sensor: sensor || null, power_w: numberWithin(power, 0.1, 10_000) });
  };
  const structures = answer?.readings.flatMap((r, i) => (r.structure ? [{ name: asked[i], structure: r.structure }] : [])) ?? [];
  const [one] = answer?.readings ?? [];
  const parting = answer?.parting ?? null;
  const { claim, basis } = headline(answer, asked);
  const together = parting && structures.length === 2;
  const layers = structures.map(({ name, structure }, i) => ({
    name,
    curve: structure.curve,
    layers: together ? parting.layers[i] : structure.layers,
  }));
  return (
    <div>
      <div aria-live="polite">
        <p className="text-verdict leading-[1.15] font-semibold" data-testid="transient">
          {keepUnits(claim)} <span className="text-title font-normal text-soft">{keepUnits(basis)}</span>
        </p>
        {parting &&
          partingNotes(parting).map((n) => (
            <p key={n} className="mt-1">
              {keepUnits(n)}
            </p>
          ))}
      </div>
      <div className="mt-6 grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[320px_minmax(0,1fr)]">
        <form
          onSubmit={(e) => {
            e.preventDefault();
            begin();
          }}
        >
          <MountChoice label="First mount" runs={runs} chosen={first} onChoose={setFirst} />
          <MountChoice label="Second mount, laid over it" runs={runs} chosen={second} onChoose={setSecond} optional />
          <ChoiceBox label="Step" value={step} onChange={setStep} choices={STEPS} />
          {(answer?.sensors.length ?? 0) > 1 && (
            <div className="mt-2">
              <ChoiceBox label="Sensor" value={sensor} onChange={setSensor} choices={[['', 'the hottest'], ...(answer?.sensors ?? [])]} />
            </div>
          )}
          <div className="mt-2">
            <NumberBoxOrNone value={power} onChange={setPower} />
          </div>
          {told ? (
            <div className="mt-4">
              <p>{told.words}</p>
              <progress className="w-full" value={told.share} max={1} aria-label="How far the step is read" />
              <Quiet className="mt-2" onClick={stop}>
                Stop
              </Quiet>
            </div>
          ) : (
            <button type="submit" className="act mt-4" disabled={!first || !readable}>
              {second ? 'Lay one over the other' : 'Read the layers'}
            </button>
          )}
          <Alert className="mt-3">{problem ?? answer?.problem}</Alert>
          <p className="mt-4 text-note text-soft">
            A step tells layers only as far as readings are dense and calm: ten a second or more, power logged beside them and held, fan
            held, the level before it nearly settled and the end awaited. How the power rose is taken from its log. Layers are bodies of one
            temperature; in a real block half of its own resistance is counted to either side, so that a place is known to about that.{' '}
            <CheckedLink subject="layers" />
          </p>
        </form>
        {structures.length > 0 ? (
          <div>
            <StructureChart mounts={layers} parting={parting} />
            {layers.map((m) => (
              <LayerTable key={m.name} name={m.name} layers={m.layers} power_w={one?.step?.power_w ?? null} />
            ))}
          </div>
        ) : (
          !answer && <Empty runs={runs} />
        )}
      </div>
      {answer?.readings.some((r) => r.findings.length > 0) && (
        <Section id="step-findings" title="What stands in the way" className="mt-8">
          <ul>
            {answer.readings.flatMap((r, i) =>
              r.findings.map((f) => (
                <li key={`${asked[i]} ${f.code} ${f.sentence}`} className="border-b border-rule py-2">
                  <b>{f.severity === 'refuse' ? 'No answer. ' : ''}</b>
                  {answer.readings.length > 1 && <span className="text-soft">{asked[i]}: </span>}
                  {keepUnits(f.sentence)}
                </li>
              )),
            )}
          </ul>
        </Section>
      )}
    </div>
  );
}

/** What the tool says in large letters: the answer, else what stands in its way, else what it is for. */
function headline(answer: TransientAnswer | null, names: [string, string]): { claim: string; basis: string } {
  const [one] = answer?.readings ?? [];
  if (answer?.parting && one?.step) return partingWords(answer.parting, names, one.step.power_w);
  const both = answer?.readings.every((r) => r.mount) && answer.readings.length === 2;
  if (both)
    return {
      claim: 'Where they part cannot be told.',
      basis: 'No ladder that both share in part follows both logs within twice their scatter; each alone stands below.',
    };
  const refusal = answer?.readings.flatMap((r) => r.findings).find((f) => f.severity === 'refuse');
  if (refusal) return { claim: 'No answer from this log.', basis: refusal.sentence };
  if (one?.structure && one.step) return { claim: structureSentence(one.step, one.structure), basis: '' };
  return { claim: 'Was it the interface or the cooler?', basis: 'One step of power tells, where it is read fast enough.' };
}

interface MountChoiceProps {
  label: string;
  runs: StepRun[];
  chosen: TransientSource | null;
  onChoose: (source: TransientSource | null) => void;
  optional?: boolean;
}

/** A stored run, or a log from the disk. */
function MountChoice({ label, runs, chosen, onChoose, optional = false }: MountChoiceProps) {
  const id = useId();
  const [told, setTold] = useState<string | null>(null);
  const [run, setRun] = useState('');
  const studies = [...new Set(runs.map((r) => r.study))];
  const take = (file: File | undefined) => {
    if (!file) return;
    if (file.size > MAX_LOG_BYTES) {
      setTold(`${file.name} has ${Math.round(file.size / 1_048_576)} MB; up to ${MAX_LOG_BYTES / 1_048_576} MB are read.`);
      return;
    }
    setTold(null);
    setRun('');
    onChoose({ name: file.name, files: [{ name: file.name, from: file }], reading: {} });
  };
  const choose = (value: string) => {
    setTold(null);
    setRun(value);
    const stored = runs.find((r) => String(r.run_id) === value);
    onChoose(
      stored
        ? {
            name: stored.name,
            files: stored.files.map((name, i) => ({ name, from: `/api/runs/${stored.run_id}/files/${i}` })),
            reading: stored.reading,
          }
        : null,
    );
  };
  return (
    <fieldset className="mb-4 border-0 p-0">
      <legend className="font-semibold">{label}</legend>
      <select aria-label={`${label}: stored run`} className="field w-full" value={run} onChange={(e) => choose(e.target.value)}>
        <option value="">{optional ? 'none' : 'choose a run'}</option>
        {studies.map((study) => (
          <optgroup key={study} label={study}>
            <Options
              choices={runs
                .filter((r) => r.study === study)
                .map(
                  (r) =>
                    [r.run_id, `${r.name}${r.period_s === null ? '' : ` (every ${write(r.period_s, r.period_s < 1 ? 1 : 0)} s)`}`] as const,
                )}
            />
          </optgroup>
        ))}
      </select>
      <label className="mt-1 block text-note text-soft" htmlFor={id}>
        or a log from the disk
      </label>
      <input id={id} type="file" className="w-full text-note" accept=".csv,.tsv,.txt,.log" onChange={(e) => take(e.target.files?.[0])} />
      <Alert>{told}</Alert>
      {chosen && run === '' && <p className="text-note">{chosen.name}</p>}
    </fieldset>
  );
}

/** Power of the step where the log has none. */
const NumberBoxOrNone = ({ value, onChange }: { value: string; onChange: (text: string) => void }) =>
  value === '' ? (
    <ChoiceBox label="Power of the step" value="log" onChange={() => onChange('140')} choices={POWERS} />
  ) : (
    <>
      <NumberBox label="Power of the step / W" value={value} onChange={onChange} min={0.1} max={10_000} />
      <Quiet onClick={() => onChange('')}>As logged</Quiet>
    </>
  );

const LayerTable = ({ name, layers, power_w }: { name: string; layers: StepLayer[]; power_w: number | null }) => (
  <section className="mt-6" aria-label={`Layers of ${name}`}>
    <h2 className="text-name font-semibold">{name}</h2>
    <Table
      rows={layers}
      keyOf={(l) => l.until.value}
      columns={[
        { head: 'Layer', cell: (_, i) => i + 1 },
        { head: 'Stores / J/K', figure: true, cell: (l) => (l.c.value < 0.05 ? '< 0.1' : write(l.c.value, l.c.value < 10 ? 1 : 0)) },
        {
          head: 'Then holds up / K/W',
          figure: true,
          className: 'text-name font-semibold',
          cell: (l) => (l.least === null ? writeResistance(l.r) : `at least ${writeResistance({ value: l.least })}`),
        },
        { head: '95 %', figure: true, cell: (l) => (l.least === null ? writeInterval(l.r) : 'not known') },
        power_w !== null && {
          head: `K at ${write(power_w, 0)} W`,
          figure: true,
          cell: (l) => write((l.least ?? l.r.value) * power_w, 1),
        },
        { head: 'Ends at / K/W', figure: true, cell: (l) => (l.least === null ? writeResistance(l.until) : 'not known') },
      ]}
    />
  </section>
);

function Empty({ runs }: { runs: StepRun[] }) {
  const fast = runs.filter((r) => r.period_s !== null && r.period_s <= 0.5).length;
  return (
    <div className="self-start border border-rule p-6">
      <p className="text-name">
        {runs.length === 0
          ? 'No run is stored yet: choose a log from the disk, or drop one on this page to store it.'
          : fast === 0
            ? 'None of the stored runs has readings more often than every 0.5 s: layers near the part will not show.'
            : `Choose one run to see its layers, two of the same cooler to see where they part. ${fast} of the stored runs ${fast === 1 ? 'has' : 'have'} readings every 0.5 s or faster; they stand first.`}
      </p>
    </div>
  );
}
