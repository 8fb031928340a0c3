import { useState } from 'react';
import { plural } from '#core/text/words';
import { addressOf } from '#features/ranking/model/choiceAddress';
import type { RailFilter } from '#features/ranking/model/filters';
import { KIND_NAMES } from '#features/shelf/model/materials';
import { ChoiceBox, numberWithin, TextBox, Tick } from '#ui/Form.tsx';
import type { RankedPlace } from './rankedPlace';

/** Filters of the rail, which leave the evidence as it is, and choices of the evidence, which are computed anew. */
export function EvidenceChoices({
  place,
  filter,
  onFilter,
}: {
  place: RankedPlace;
  filter: RailFilter;
  onFilter: (f: RailFilter) => void;
}) {
  const { choice, answer, several_lots, other_labs } = place;
  const { names } = answer;
  const [cost, setCost] = useState('');
  const [years, setYears] = useState('');
  const kinds = [...new Set(answer.materials.map((m) => m.kind))];
  const currencies = [...new Set(answer.materials.flatMap((m) => (m.cost === null ? [] : [m.currency ?? ''])))];
  const go = (change: Partial<typeof choice>) => window.location.assign(`/ranking${addressOf({ ...choice, ...change })}`);
  const active = [
    filter.kind !== '' && (KIND_NAMES[filter.kind as keyof typeof KIND_NAMES] ?? filter.kind),
    filter.most_cost !== null && `up to ${filter.most_cost} ${currencies[0]}`,
    filter.within_years !== null && `measured within ${filter.within_years} years`,
    filter.permanent === 'no' && 'removable only',
    filter.conducts === 'no' && 'no conductor',
    choice.years !== null && `evidence of ${plural(choice.years, 'year')}`,
    choice.lots === 'together' && 'lots together',
    choice.labs === 'all' && 'with other labs',
  ].filter((w) => w !== false);
  return (
    <details className="mt-4" open={active.length > 0 ? true : undefined}>
      <summary className="inline-block cursor-pointer py-1 hover:bg-band">
        <span className="font-semibold">Reference, filters and evidence</span>
        <span className="text-soft">: {[names[answer.reference], ...active].join(', ')}</span>
      </summary>
      <div className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-2">
        <div className="w-44">
          <ChoiceBox
            label="Reference"
            value={answer.reference}
            choices={answer.materials.map((m) => [m.material, m.name] as const)}
            onChange={(reference) => go({ reference })}
          />
        </div>
        <div className="w-40">
          <ChoiceBox
            label="Kind"
            value={filter.kind}
            choices={[['', 'All kinds'], ...kinds.map((k) => [k, KIND_NAMES[k as keyof typeof KIND_NAMES] ?? k] as const)]}
            onChange={(kind) => onFilter({ ...filter, kind })}
          />
        </div>
        {currencies.length === 1 && (
          <div className="w-32">
            <TextBox
              label={`A mount up to / ${currencies[0] || 'money'}`}
              className="figure"
              inputMode="decimal"
              value={cost}
              onChange={(text) => {
                setCost(text);
                onFilter({ ...filter, most_cost: numberWithin(text, 0, 1e6) });
              }}
            />
          </div>
        )}
        <div className="w-36">
          <TextBox
            label="Measured within / years"
            className="figure"
            inputMode="decimal"
            value={years}
            onChange={(text) => {
              setYears(text);
              onFilter({ ...filter, within_years: numberWithin(text, 0.01, 100) });
            }}
          />
        </div>
        <Tick
          words="Removable only"
          checked={filter.permanent === 'no'}
          onChange={(on) => onFilter({ ...filter, permanent: on ? 'no' : 'any' })}
        />
        <Tick
          words="No conductor"
          checked={filter.conducts === 'no'}
          onChange={(on) => onFilter({ ...filter, conducts: on ? 'no' : 'any' })}
        />
        <div className="w-40">
          <ChoiceBox
            label="Evidence"
            value={choice.years === null ? '' : String(choice.years)}
            choices={[
              ['', 'of all years'],
              ['1', 'of the last year'],
              ['2', 'of 2 years'],
              ['3', 'of 3 years'],
              ['5', 'of 5 years'],
            ]}
            onChange={(y) => go({ years: y === '' ? null : Number(y) })}
          />
        </div>
        {(several_lots.length > 0 || choice.lots === 'together') && (
          <Tick words="Lots together" checked={choice.lots === 'together'} onChange={(on) => go({ lots: on ? 'together' : 'apart' })} />
        )}
        {other_labs.length > 0 && (
          <Tick words="With other labs" checked={choice.labs === 'all'} onChange={(on) => go({ labs: on ? 'all' : 'own' })} />
        )}
      </div>
    </details>
  );
}
