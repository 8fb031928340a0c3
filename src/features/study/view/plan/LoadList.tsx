import { X } from 'lucide-react';
import { useState } from 'react';
import { loadMinutes, programsProblem } from '#features/study/model/loadFigures';
import type { LadderStep, Load, LoadStep } from '#features/study/model/loads';
import { STAGES, type Stage } from '#features/study/model/stages';
import { numberWithin, Options, Quiet, TextButton } from '#ui/Form.tsx';
import { ItemCell, ItemList, toNumber } from './ItemList.tsx';
import type { PlanDesk } from './usePlan';

const FRESH_STEPS: LoadStep[] = [
  { stage: 'idle', minutes: 5 },
  { stage: 'load', minutes: 25 },
  { stage: 'cool_down', minutes: 10 },
];

/** The loads of a study, each run on every mount: program, settings, steps and stability ladder. */
export const LoadList = ({ desk }: { desk: PlanDesk }) => (
  <ItemList<Load>
    desk={desk}
    field="loads"
    one="load"
    fresh={() => ({ name: '', steps: FRESH_STEPS })}
    empty="No load yet. Without one, a run takes the minutes set under Bench time."
  >
    {(load, change) => (
      <div className="flex flex-col gap-2">
        <div className="flex flex-wrap gap-3">
          <ItemCell label="Name" wide value={load.name} onChange={(name) => change({ name })} />
          <ItemCell label="Program" value={load.program} onChange={(v) => change({ program: v || null })} />
          <ItemCell label="Other programs, comma between" wide value={load.beside} onChange={(v) => change({ beside: v || null })} />
          <ItemCell label="Ends with" value={load.ended_by} onChange={(v) => change({ ended_by: v || null })} />
          <ItemCell label="Version" value={load.version} onChange={(v) => change({ version: v || null })} />
          <ItemCell label="Settings" wide value={load.settings} onChange={(v) => change({ settings: v || null })} />
          <ItemCell label="Threads" number value={load.threads} onChange={(v) => change({ threads: toNumber(v) })} />
          <ItemCell label="Scene or starting point" wide value={load.scene} onChange={(v) => change({ scene: v || null })} />
          <ItemCell label="Cycles" number value={load.cycles} onChange={(v) => change({ cycles: toNumber(v) })} />
        </div>
        {programsProblem(load) && (
          <p role="alert" className="text-ember">
            {programsProblem(load)}
          </p>
        )}
        <Steps load={load} onChange={(steps) => change({ steps })} />
        <Ladder load={load} change={change} />
      </div>
    )}
  </ItemList>
);

function Steps({ load, onChange }: { load: Load; onChange: (steps: LoadStep[]) => void }) {
  const put = (i: number, part: Partial<LoadStep>) => onChange(load.steps.map((s, j) => (j === i ? { ...s, ...part } : s)));
  return (
    <div className="border-l-2 border-rule pl-3">
      <ol className="flex flex-col gap-1">
        {load.steps.map((s, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: steps have no identity but their place
          <li key={i} className="flex flex-wrap items-end gap-3">
            <label className="text-note">
              <span className="block text-soft">Step {i + 1}</span>
              <select className="field text-base" value={s.stage} onChange={(e) => put(i, { stage: e.target.value as Stage })}>
                <Options choices={Object.entries(STAGES)} />
              </select>
            </label>
            <ItemCell label="min" number value={s.minutes} onChange={(v) => put(i, { minutes: toNumber(v) as number })} />
            <ItemCell label="Power / W" number value={s.power_w} onChange={(v) => put(i, { power_w: toNumber(v) })} />
            <ItemCell label="Clock / MHz" number value={s.clock_mhz} onChange={(v) => put(i, { clock_mhz: toNumber(v) })} />
            <ItemCell label="Voltage / V" number value={s.voltage_v} onChange={(v) => put(i, { voltage_v: toNumber(v) })} />
            <ItemCell label="Fan / rpm" number value={s.fan_rpm} onChange={(v) => put(i, { fan_rpm: toNumber(v) })} />
            <Quiet
              aria-label={`Delete step ${i + 1} of ${load.name || 'the load'}`}
              onClick={() => onChange(load.steps.filter((_, j) => j !== i))}
            >
              <X size={16} aria-hidden="true" />
            </Quiet>
          </li>
        ))}
      </ol>
      <p className="mt-1 text-note text-soft">
        <TextButton className="mr-3" onClick={() => onChange([...load.steps, { stage: 'load', minutes: 10 }])}>
          Add step
        </TextButton>
        One run takes <span className="figure">{Number(loadMinutes(load).toFixed(1))}</span> min.
      </p>
    </div>
  );
}

/** Clock and voltage steps, each on a line; a row of them is filled at once. */
function Ladder({ load, change }: { load: Load; change: (part: Partial<Load>) => void }) {
  const steps = load.ladder ?? [];
  const onChange = (ladder: Load['ladder']) => change({ ladder });
  return (
    <details className="text-note" open={steps.length > 0}>
      <summary className="cursor-pointer">Stability ladder{steps.length > 0 ? `: ${steps.length} steps` : ': none'}</summary>
      <p className="text-soft">
        Clock and voltage of each step. At the bench each step passes, fails under load, hangs or does not start; the highest passing clock
        is an outcome. A study whose loads are all ladders needs no temperature.
      </p>
      <FillLadder onFill={(more) => onChange([...steps, ...more])} />
      {steps.length > 0 && (
        <ItemCell label="Each step held / min" number value={load.ladder_min} onChange={(v) => change({ ladder_min: toNumber(v) })} />
      )}
      <ol className="mt-1 flex flex-col gap-1">
        {steps.map((s, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: steps have no identity but their place
          <li key={i} className="flex items-end gap-3">
            <ItemCell
              label="Clock / MHz"
              number
              value={s.clock_mhz}
              onChange={(v) => onChange(steps.map((o, j) => (j === i ? { ...o, clock_mhz: toNumber(v) as number } : o)))}
            />
            <ItemCell
              label="Voltage / V"
              number
              value={s.voltage_v}
              onChange={(v) => onChange(steps.map((o, j) => (j === i ? { ...o, voltage_v: toNumber(v) } : o)))}
            />
            <Quiet aria-label={`Delete ladder step ${i + 1}`} onClick={() => onChange(steps.filter((_, j) => j !== i))}>
              <X size={16} aria-hidden="true" />
            </Quiet>
          </li>
        ))}
      </ol>
      <TextButton
        className="mt-1"
        onClick={() =>
          onChange([...steps, { clock_mhz: (steps.at(-1)?.clock_mhz ?? 1950) + 50, voltage_v: steps.at(-1)?.voltage_v ?? null }])
        }
      >
        Add ladder step
      </TextButton>
    </details>
  );
}

/** Most steps that are filled at once. */
const MOST_FILLED = 60;

/** Steps from one clock to another, at one voltage or several. */
function FillLadder({ onFill }: { onFill: (steps: LadderStep[]) => void }) {
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const [by, setBy] = useState('50');
  const [voltages, setVoltages] = useState('');
  const [low, high, step] = [from, to, by].map((t) => numberWithin(t, 0.1, 100_000));
  const volts = voltages
    .split(/[;\s]+/)
    .filter(Boolean)
    .map((t) => numberWithin(t, 0.01, 100));
  const count = low && high && step ? Math.floor((high - low) / step + 1e-9) + 1 : 0;
  const total = count * Math.max(1, volts.length);
  const problem = volts.some((v) => v === null)
    ? 'Voltages are numbers with spaces between.'
    : total > MOST_FILLED
      ? `${total} steps are too many; up to ${MOST_FILLED} are filled at once.`
      : null;
  const ready = low !== null && step !== null && step > 0 && count > 0 && problem === null;
  const fill = () => {
    const clocks = Array.from({ length: count }, (_, i) => (low ?? 0) + i * (step ?? 0));
    onFill((volts.length > 0 ? volts : [null]).flatMap((voltage_v) => clocks.map((clock_mhz) => ({ clock_mhz, voltage_v }))));
    setFrom('');
    setTo('');
  };
  return (
    <div className="mt-1 flex flex-wrap items-end gap-3">
      <ItemCell label="From / MHz" number value={from} onChange={setFrom} />
      <ItemCell label="to / MHz" number value={to} onChange={setTo} />
      <ItemCell label="in steps of / MHz" number value={by} onChange={setBy} />
      <ItemCell label="at / V, several with spaces" value={voltages} onChange={setVoltages} />
      <Quiet disabled={!ready} onClick={fill}>
        Fill ladder
      </Quiet>
      {problem && (
        <span role="alert" className="text-ember">
          {problem}
        </span>
      )}
    </div>
  );
}
