import { useMemo, useState } from 'react';
import { keepUnits, list, plural } from '#core/text/words';
import { addressOf, materialAddress } from '#features/ranking/model/choiceAddress';
import { filtered, NO_FILTER } from '#features/ranking/model/filters';
import { networkLines } from '#features/ranking/model/network';
import { AREA_SCALED, headlineOf, type RankingScale, scaleDigits } from '#features/ranking/model/rankingWords';
import { kelvinPer, type MeasuredRange, partCautions, partProblem } from '#features/ranking/model/readersPart';
import { checkedAddress } from '#ui/checked';
import { Alert, Quiet } from '#ui/Form.tsx';
import { Info } from '#ui/Info.tsx';
import { useWidth } from '#ui/useWidth';
import { ClaimsTable } from './ClaimsTable.tsx';
import { EvidenceChoices } from './EvidenceChoices.tsx';
import { EvidenceNetwork } from './EvidenceNetwork.tsx';
import { PartAnswer } from './PartAnswer.tsx';
import { areaOf, NO_PART, PartBar, type PartTexts, powerOf } from './PartBar.tsx';
import { RankingRail } from './RankingRail.tsx';
import { RankingWorth } from './RankingWorth.tsx';
import type { RankedPlace } from './rankedPlace';
import { SetupList } from './SetupList.tsx';
import { useAgainstOthers } from './useAgainstOthers';

/** Rows of the rail that are drawn before all are asked for. */
const FIRST = 60;
/** Materials that are not connected, and are named. */
const MOST_APART = 12;

/** What all studies say of materials: the rail, the answer for a part, the evidence and where it is from. */
export function RankingDesk({ place, now_s }: { place: RankedPlace; now_s: number }) {
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
      <EvidenceChoices place={place} filter={filter} onFilter={setFilter} />
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
