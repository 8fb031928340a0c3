import { useId } from 'react';
import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import type { BlockBy } from '#core/compare/types';
import { loadWith, namedOf } from '#features/results/model/choice';
import type { ResultsChoice, StudyFacts } from '#features/results/model/facts';
import { isOfLadder, type LadderOutcome, ladderLevel, ladderLevels, levelWords } from '#features/results/model/ladders';
import { Options, Tick } from '#ui/Form.tsx';
import { Info } from '#ui/Info.tsx';

interface ChoiceBarProps {
  facts: StudyFacts;
  choice: ResultsChoice;
  /** those that some run has a value of */
  outcomes: OutcomeKey[];
  onChoose: (change: Partial<ResultsChoice>) => void;
  /** where a choice is about to be made */
  onNear: () => void;
}

/** What is looked at: the outcome, the load, and how it is judged. */
export function ChoiceBar({ facts, choice, outcomes, onChoose, onNear }: ChoiceBarProps) {
  const rigs = new Set(facts.runs.map((r) => r.rig)).size;
  const days = new Set(facts.runs.map((r) => r.day)).size;
  const events = [...new Set(facts.runs.flatMap((r) => r.events.map((e) => e.event)))];
  const names = namedOf(facts, choice.outcome);
  const levels = isOfLadder(choice.outcome) ? ladderLevels(facts, choice.outcome) : [];
  const isCut = facts.runs.some((r) => r.mount_reason !== null || r.run_reason !== null);
  const blocks: [string, string][] = [
    ['none', 'Nothing'],
    ...(days > 1 ? [['day', 'Bench day'] as [string, string]] : []),
    ...(rigs > 1 ? [['rig', 'Rig'] as [string, string]] : []),
    ...(rigs > 1 && days > 1 ? [['rig-day', 'Rig and day'] as [string, string]] : []),
  ];
  return (
    <section
      aria-label="What is compared, and how"
      onPointerEnter={onNear}
      onFocus={onNear}
      className="flex flex-wrap items-end gap-x-4 gap-y-2"
    >
      <Pick
        label="Outcome"
        value={choice.outcome}
        onChange={(v) =>
          onChoose({
            outcome: v as OutcomeKey,
            event: v === 'time_to_event' ? (events[0] ?? null) : null,
            sensor: namedOf(facts, v as OutcomeKey)[0] ?? null,
            at: isOfLadder(v as OutcomeKey) ? ladderLevel(facts, v as LadderOutcome) : null,
            load: loadWith(facts, v as OutcomeKey, choice.load),
          })
        }
        choices={outcomes.map((key) => [key, OUTCOMES[key].name])}
      />
      {choice.outcome === 'rise_at_power' && (
        <label className="block">
          <span className="block text-note text-soft">Power / W</span>
          <input
            className="field w-24"
            type="number"
            min={1}
            max={100000}
            value={choice.power_w ?? ''}
            onChange={(e) => Number(e.target.value) > 0 && onChoose({ power_w: Number(e.target.value) })}
          />
        </label>
      )}
      {names.length > 0 && (
        <Pick
          label={choice.outcome === 'sensor' ? 'Sensor' : 'Part'}
          value={choice.sensor ?? ''}
          onChange={(sensor) => onChoose({ sensor })}
          choices={names.map((s) => [s, s])}
        />
      )}
      {choice.outcome === 'time_to_event' && (
        <Pick label="Event" value={choice.event ?? ''} onChange={(event) => onChoose({ event })} choices={events.map((e) => [e, e])} />
      )}
      {isOfLadder(choice.outcome) && levels.length > 1 && (
        <Pick
          label="Compare at"
          value={String(choice.at)}
          onChange={(at) => onChoose({ at: at === 'mean' ? at : Number(at) })}
          choices={levels.map((l) => [String(l), levelWords(choice.outcome as LadderOutcome, l)])}
        />
      )}
      {facts.loads.length > 1 && (
        <Pick label="Load" value={choice.load ?? ''} onChange={(load) => onChoose({ load })} choices={facts.loads.map((l) => [l, l])} />
      )}
      <Pick
        label="Scatter"
        term="method"
        value={choice.scatter}
        onChange={(v) => onChoose({ scatter: v as ResultsChoice['scatter'] })}
        choices={[
          ['auto', 'Chosen for the design'],
          ['pooled', 'One for all'],
          ['separate', 'Each its own'],
          ['strict', 'Each its own, strict'],
        ]}
      />
      <Pick
        label="Pairs"
        value={choice.family}
        onChange={(v) => onChoose({ family: v as ResultsChoice['family'] })}
        choices={[
          ['all', 'All pairs'],
          ['reference', 'With the reference'],
        ]}
      />
      {blocks.length > 1 && (
        <Pick
          label="Adjust for"
          term="adjust"
          value={choice.block ?? 'none'}
          onChange={(v) => onChoose({ block: v === 'none' ? null : (v as BlockBy) })}
          choices={blocks}
        />
      )}
      {isCut && (
        <Tick words="Include what was left out" checked={choice.with_excluded} onChange={(on) => onChoose({ with_excluded: on })} />
      )}
    </section>
  );
}

interface PickProps {
  label: string;
  /** explained beside it */
  term?: 'method' | 'adjust';
  value: string;
  choices: [string, string][];
  onChange: (value: string) => void;
}

function Pick({ label, term, value, choices, onChange }: PickProps) {
  const id = useId();
  return (
    <div>
      <div className="flex min-h-6 items-center">
        <label htmlFor={id} className="text-note text-soft">
          {label}
        </label>
        {term && <Info term={term} />}
      </div>
      <select id={id} className="field" value={value} onChange={(e) => onChange(e.target.value)}>
        <Options choices={choices} />
      </select>
    </div>
  );
}
