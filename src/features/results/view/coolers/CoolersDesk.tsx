import { useId } from 'react';
import { keepUnits, write } from '#core/text/words';
import type { Sweep } from '#core/thermal/coolers/sweep';
import type { CoolerAnswer } from '#features/results/model/coolers/coolersAnswer';
import { type CoolerFigure, type CoolerQuestion, figureOf, type HeldAt, heldWords } from '#features/results/model/coolers/figures';
import type { StudyFacts } from '#features/results/model/facts';
import { sharedRange, soundUnit } from '#features/results/model/sweeps';
import { SpecimenName } from '#ui/SpecimenMark.tsx';
import { Table } from '#ui/Table.tsx';
import { CheckedLink, Section } from '#ui/Words.tsx';
import { Ladder } from '../Ladder.tsx';
import { CurveChart } from './CurveChart.tsx';
import { useCoolers } from './useCoolers';

interface CoolersDeskProps {
  facts: StudyFacts;
  sweeps: Sweep[];
  initial: CoolerAnswer;
  crossings: string[];
}

const WAYS: { by: HeldAt; words: string }[] = [
  { by: 'noise', words: 'Equal noise' },
  { by: 'speed', words: 'Equal fan speed' },
  { by: 'rise', words: 'Equal temperature' },
  { by: 'full', words: 'Each at full speed' },
];
const STEP: Record<HeldAt, number> = { noise: 0.1, speed: 10, rise: 0.1, full: 1 };

/** Coolers over their fan speeds: held alike where the reader picks, and judged there. */
export function CoolersDesk({ facts, sweeps, initial, crossings }: CoolersDeskProps) {
  const { answer, question, ask, told } = useCoolers(facts, sweeps, initial);
  const unit = soundUnit(facts.sound);
  const figures = sweeps.map((s) => figureOf(s, question, facts));
  const pairs = answer.analysis?.pairs ?? [];
  const missing = figures.filter((f) => f.told !== '');
  return (
    <>
      <h1 className="mt-4 text-verdict leading-[1.15] font-semibold">
        {answer.analysis && answer.headline.claim ? (
          <>
            {keepUnits(`${heldWords(answer.question, unit)}: ${answer.headline.claim}`)}{' '}
            <span className="text-title font-normal text-soft">{keepUnits(answer.headline.basis)}</span>
          </>
        ) : (
          keepUnits(`${heldWords(answer.question, unit)} no cooler was measured`)
        )}
      </h1>
      <HeldAlike sweeps={sweeps} question={question} unit={unit} onAsk={ask} />
      {told && (
        <p role="alert" className="mt-2 font-semibold text-ember">
          {told}
        </p>
      )}
      <div className="mt-4">
        <CurveChart facts={facts} sweeps={sweeps} question={question} figures={figures} />
      </div>
      <FigureTable facts={facts} figures={figures} unit={unit} />
      {missing.length > 0 && (
        <ul className="mt-3">
          {missing.map((f) => (
            <li key={f.specimen}>{f.told}</li>
          ))}
        </ul>
      )}
      {crossings.length > 0 && (
        <Section id="crossings" title="Where they overtake each other" className="mt-8">
          <ul>
            {crossings.map((c) => (
              <li key={c} className="border-b border-rule py-2">
                {c}
              </li>
            ))}
          </ul>
          <CheckedLink subject="coolers" />
        </Section>
      )}
      {answer.rungs.length > 0 && (
        <Section id="held-ladder" title={<>{heldWords(answer.question, unit)}, mount by mount</>} className="mt-8">
          <Ladder
            title={`${facts.title} ${heldWords(answer.question, unit).toLowerCase()}`}
            specimens={answer.rungs}
            reference={facts.reference}
            margin={answer.margin}
            range={answer.range}
            confidence={facts.confidence}
            outcome={answer.outcome}
          />
          <ul className="mt-4">
            {answer.main.map((i) => (
              <li key={pairs[i].a + pairs[i].b} className="border-b border-rule py-2">
                {pairs[i].sentence}
              </li>
            ))}
          </ul>
          <p className="mt-3 text-soft">
            Each mount’s value is read off its cooler’s curve, shifted by what this mount differs; the error of the curves is in the
            intervals. Curves are not read by more than 5 % beyond the measured speeds. All pairs at once:{' '}
            {Number((100 * facts.confidence).toFixed(1))} %.
          </p>
        </Section>
      )}
    </>
  );
}

function HeldAlike({
  sweeps,
  question,
  unit,
  onAsk,
}: {
  sweeps: Sweep[];
  question: CoolerQuestion;
  unit: string;
  onAsk: (q: CoolerQuestion) => void;
}) {
  const id = useId();
  const range = question.by === 'full' ? null : sharedRange(sweeps, question.by);
  const step = STEP[question.by];
  const onStep = (v: number) => Number((Math.round(v / step) * step).toFixed(1));
  const begin = (by: HeldAt) => {
    const r = by === 'full' ? null : sharedRange(sweeps, by);
    onAsk({ by, at: r ? Number((Math.round((r[0] + r[1]) / 2 / STEP[by]) * STEP[by]).toFixed(1)) : 0 });
  };
  const label = { noise: `Noise / ${unit}`, speed: 'Fan speed / rpm', rise: 'ΔT over ambient / K', full: '' }[question.by];
  const change = (text: string) => text !== '' && Number.isFinite(Number(text)) && onAsk({ ...question, at: Number(text) });
  return (
    <section aria-label="Controlled conditions" className="mt-4 flex flex-wrap items-end gap-x-8 gap-y-3">
      <fieldset className="flex flex-wrap gap-x-1 gap-y-1">
        <legend className="text-note text-soft">Controlled conditions</legend>
        {WAYS.map((w) => (
          <label
            key={w.by}
            className="cursor-pointer border border-soft px-3 py-1.5 has-checked:bg-ink has-checked:text-paper has-focus-visible:outline-3 has-focus-visible:outline-offset-2 has-focus-visible:outline-ember"
          >
            <input type="radio" name={id} className="sr-only" checked={question.by === w.by} onChange={() => begin(w.by)} />
            {w.words}
          </label>
        ))}
      </fieldset>
      {range && (
        <div className="flex min-w-0 basis-full items-end gap-3 lg:basis-80 lg:grow">
          <div className="min-w-0 grow">
            <label htmlFor={`${id}-slider`} className="flex justify-between text-note text-soft">
              <span>{label}</span>
              <span className="font-figure">
                {write(range[0], question.by === 'speed' ? 0 : 1)} to {write(range[1], question.by === 'speed' ? 0 : 1)}
              </span>
            </label>
            <input
              id={`${id}-slider`}
              type="range"
              className="h-8 w-full accent-ember"
              min={onStep(range[0])}
              max={onStep(range[1])}
              step={step}
              value={question.at}
              onChange={(e) => change(e.target.value)}
            />
          </div>
          <input
            aria-label={`${label}, as a number`}
            type="number"
            className="field w-28"
            min={onStep(range[0])}
            max={onStep(range[1])}
            step={step}
            value={question.at}
            onChange={(e) => change(e.target.value)}
          />
        </div>
      )}
    </section>
  );
}

function FigureTable({ facts, figures, unit }: { facts: StudyFacts; figures: CoolerFigure[]; unit: string }) {
  const position = new Map(facts.specimens.map((s) => [s.name, s.position]));
  const said = (v: number | null, digits: number) => (v === null ? '–' : write(v, digits));
  const ordered = [...figures].sort((a, b) => (a.rise ?? Infinity) - (b.rise ?? Infinity) || (a.level ?? Infinity) - (b.level ?? Infinity));
  return (
    <Table
      label="The coolers at the level compared"
      className="mt-4 max-w-3xl"
      rows={ordered}
      keyOf={(f) => f.specimen}
      columns={[
        { head: 'Cooler', names: true, cell: (f) => <SpecimenName name={f.specimen} position={position.get(f.specimen) ?? 0} /> },
        { head: 'Fan / rpm', figure: true, cell: (f) => said(f.rpm, 0) },
        { head: `Noise / ${unit}`, figure: true, cell: (f) => said(f.level, 1) },
        { head: 'ΔT / K', figure: true, className: 'text-name font-semibold', cell: (f) => said(f.rise, 1) },
      ]}
    />
  );
}
