import { useEffect, useMemo, useState } from 'react';
import { keepUnits, list, plural } from '#core/text/words';
import { addressOf, materialAddress } from '#features/ranking/model/choiceAddress';
import { filtered, NO_FILTER, type RailFilter } from '#features/ranking/model/filters';
import { networkLines } from '#features/ranking/model/network';
import type { ShownDifference } from '#features/ranking/model/rankingAnswer';
import { AREA_SCALED, headlineOf, type RankingScale, scaleDigits } from '#features/ranking/model/rankingWords';
import { kelvinPer, type MeasuredRange, partCautions, partProblem, partSentence } from '#features/ranking/model/readersPart';
import type { RankingPlace } from '#features/ranking/server/rankingPlace';
import { KIND_NAMES } from '#features/shelf/model/materials';
import { checkedAddress } from '#ui/checked';
import { Alert, ChoiceBox, numberWithin, Quiet, TextBox, Tick } from '#ui/Form.tsx';
import { Info } from '#ui/Info.tsx';
import { send } from '#ui/send';
import { useWidth } from '#ui/useWidth';
import { ClaimsTable } from './ClaimsTable.tsx';
import { EvidenceNetwork } from './EvidenceNetwork.tsx';
import { areaOf, NO_PART, PartBar, type PartTexts, powerOf } from './PartBar.tsx';
import { RankingRail } from './RankingRail.tsx';
import { RankingWorth } from './RankingWorth.tsx';
import { SetupList } from './SetupList.tsx';
import { useAgainstOthers } from './useAgainstOthers';

/** Rows of the rail that are drawn before all are asked for. */
const FIRST = 60;
/** Materials that are not connected, and are named. */
const MOST_APART = 12;

type Place = RankingPlace & { answer: NonNullable<RankingPlace['answer']> };

/** What all studies say of materials: the rail, the answer for a part, the evidence and where it is from. */
export function RankingDesk({ place, now_s }: { place: Place; now_s: number }) {
  const { answer, choice, setups, rows, said, several_lots, other_labs } = place;
  const { materials, names, reference } = answer;
  const width = useWidth();
  const [part, setPart] = useState<PartTexts>(NO_PART);
  const [filter, setFilter] = useState(NO_FILTER);
  const [isWhole, setWhole] = useState(false);
  const address = addressOf(choice);
  const others = useAgainstOthers(answer.against_others, address);
  const lines = useMemo(() => networkLines(rows, answer.tau ?? 0), [rows, answer.tau]);
  const measured: MeasuredRange[] = setups.filter((s) => s.counts);
  const [power_w, area_mm2] = [powerOf(part), areaOf(part)];
  const own = power_w === null || area_mm2 === null ? null : { power_w, area_mm2, contact: part.contact, pressure: part.pressure || null };
  const refusal = own && partProblem(own, measured);
  const scale: RankingScale = own && !refusal ? { factor: kelvinPer(own), unit: 'K' } : AREA_SCALED;
  const digits = scaleDigits(answer, scale);
  const { claim, basis } = headlineOf(answer, names, scale);
  const { shown, unsaid } = filtered(materials, filter, now_s);
  const drawn = isWhole ? shown : shown.slice(0, FIRST);
  return (
    <>
      <header>
        <h1 className="max-w-5xl text-verdict leading-tight font-semibold">{keepUnits(claim)}</h1>
        <p className="mt-2 max-w-4xl text-name">
          {keepUnits(basis)} <Info term="setup" />
        </p>
        {place.usual_scatter > 0 && (
          <p className="mt-1 max-w-4xl font-semibold">
            Scatter assumed: {place.usual_scatter} of {answer.rows} means rest on what is usual of their kind, as too few mounts were
            repeated to tell it.
          </p>
        )}
      </header>
      <section className="mt-5" aria-labelledby="part-heading">
        <div className="flex flex-wrap items-baseline gap-x-4 pb-1">
          <h2 id="part-heading" className="text-name font-semibold">
            On your part
          </h2>
          {own === null && <p className="text-soft">With power and area the rail shows kelvin instead of {AREA_SCALED.unit}.</p>}
        </div>
        <PartBar part={part} onChange={setPart} />
        {refusal ? (
          <Alert>{refusal}</Alert>
        ) : (
          own && <PartAnswer place={place} part={own} cautions={partCautions(own, measured)} address={address} />
        )}
      </section>
      <Choices place={place} filter={filter} onFilter={setFilter} />
      <section className="mt-3" aria-label="All materials">
        {shown.length === 0 ? (
          <p className="text-name">
            No material passes these filters. <Quiet onClick={() => setFilter(NO_FILTER)}>Show all materials</Quiet>
          </p>
        ) : (
          <RankingRail materials={drawn} {...{ names, reference, scale, digits, width }} hrefOf={(m) => materialAddress(m, choice)} />
        )}
        {drawn.length < shown.length && (
          <Quiet className="mt-2" onClick={() => setWhole(true)}>
            Show all {shown.length}; {drawn.length} are shown
          </Quiet>
        )}
        {unsaid > 0 && (
          <p className="text-soft">{plural(unsaid, 'material')} shown although the shelf does not say what the filters ask.</p>
        )}
        {answer.apart.length > 0 && (
          <p className="mt-2">
            Not connected to {names[reference]} by any chain of set-ups, so nothing can be said:{' '}
            {list(answer.apart.slice(0, MOST_APART).map((m) => names[m] ?? m))}
            {answer.apart.length > MOST_APART && ` and ${answer.apart.length - MOST_APART} more`}.
          </p>
        )}
        {several_lots.length > 0 && choice.lots === 'apart' && (
          <p className="mt-1 text-soft">Lots of {list(several_lots)} stand apart, as materials of their own.</p>
        )}
      </section>
      <section className="section-rule mt-10" aria-labelledby="network-heading">
        <h2 id="network-heading" className="pb-2 text-title font-semibold">
          What was measured side by side
        </h2>
        <EvidenceNetwork
          order={materials.map((m) => m.material)}
          {...{ names, lines, width }}
          setupNames={Object.fromEntries(setups.map((s) => [s.key, s.name]))}
        />
      </section>
      <section className="section-rule mt-10" aria-labelledby="setups-heading">
        <h2 id="setups-heading" className="text-title font-semibold">
          Set-ups
        </h2>
        <p className="max-w-3xl text-soft">
          Recognised by rig, part, cooler, load (power within 10 %) and pressure. Each is compared with what all others say of its
          materials; p adjusted by Holm. Choose two or more to merge them.
        </p>
        {others.told === null &&
          (others.done === null ? (
            <Quiet className="mt-2" onClick={others.start}>
              Compare each set-up with the others
            </Quiet>
          ) : (
            <p className="mt-2 flex items-center gap-3">
              <progress value={others.done} aria-label="Set-ups compared" /> Comparing set-ups with each other
              <Quiet onClick={others.cancel}>Cancel</Quiet>
            </p>
          ))}
        <Alert>{others.problem}</Alert>
        <SetupList {...{ setups, said, names }} against={others.told} />
        {place.not_ranked.length > 0 && (
          <details className="mt-3">
            <summary className="cursor-pointer py-1">{plural(place.not_ranked.length, 'study', 'studies')} not in this ranking</summary>
            <ul>
              {place.not_ranked.map((s) => (
                <li key={s.study_id}>
                  <a href={`/studies/${s.study_id}`}>{s.study}</a>: {s.why}
                </li>
              ))}
            </ul>
          </details>
        )}
      </section>
      <section className="section-rule mt-10" aria-labelledby="worth-heading">
        <h2 id="worth-heading" className="pb-2 text-title font-semibold">
          Price and gain
        </h2>
        <RankingWorth materials={materials} {...{ reference, scale, digits }} />
      </section>
      <section className="section-rule mt-10" aria-labelledby="claims-heading">
        <h2 id="claims-heading" className="pb-2 text-title font-semibold">
          Claims against measurements
        </h2>
        <ClaimsTable materials={materials} />
      </section>
      <p className="mt-8 text-soft">
        Other labs: {other_labs.length === 0 ? 'no package of another lab was imported' : list(other_labs)}. How often these intervals hold:{' '}
        <a href={checkedAddress('ranking')}>measured by simulation</a>.
      </p>
    </>
  );
}

/** The expected difference of two materials on a part, in a sentence. */
function PartAnswer({
  place: { answer },
  part,
  cautions,
  address,
}: {
  place: Place;
  part: { power_w: number; area_mm2: number };
  cautions: string[];
  address: string;
}) {
  const { materials, names, reference } = answer;
  const order = materials.map((m) => m.material);
  const [a, setA] = useState(order.find((m) => m !== reference) ?? reference);
  const [b, setB] = useState(reference);
  const [fetched, setFetched] = useState<ShownDifference | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  // against the reference the page knows; any other pair is asked for
  const known = b === reference ? materials.find((m) => m.material === a) : undefined;
  useEffect(() => {
    if (known || a === b) return;
    const control = new AbortController();
    const query = new URLSearchParams(address);
    query.set('a', a);
    query.set('b', b);
    setFetched(null);
    void send<ShownDifference>(`/api/ranking/difference?${query}`, { signal: control.signal }, setProblem).then(
      (told) => !control.signal.aborted && setFetched(told),
    );
    return () => control.abort();
  }, [a, b, known, address]);
  const told = known ?? (fetched && fetched.a === a && fetched.b === b ? fetched : null);
  const choices = order.map((m) => [m, names[m] ?? m] as const);
  return (
    <div className="mt-3 border-l-4 border-ink pl-4">
      <p role="status" className="max-w-4xl text-title leading-tight font-semibold">
        {a === b
          ? 'Choose two different materials.'
          : told
            ? keepUnits(partSentence(part, told, names[a] ?? a, names[b] ?? b))
            : 'Comparing …'}
      </p>
      <div className="mt-2 flex max-w-xl flex-wrap gap-4">
        <div className="min-w-44 flex-1">
          <ChoiceBox label="Material" value={a} choices={choices} onChange={setA} />
        </div>
        <div className="min-w-44 flex-1">
          <ChoiceBox label="compared with" value={b} choices={choices} onChange={setB} />
        </div>
      </div>
      {cautions.map((c) => (
        <p key={c} className="mt-1 max-w-3xl text-soft">
          {c}
        </p>
      ))}
      <Alert>{problem}</Alert>
    </div>
  );
}

/** Filters of the rail, which leave the evidence as it is, and choices of the evidence, which are computed anew. */
function Choices({ place, filter, onFilter }: { place: Place; filter: RailFilter; onFilter: (f: RailFilter) => void }) {
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
