import { useState } from 'react';
import { keepUnits, list } from '#core/text/words';
import type { RailMaterial } from '#features/ranking/model/placeTypes';
import { headlineOf, type RankingScale, scaleDigits } from '#features/ranking/model/rankingWords';
import type { CoolerRanking } from '#features/ranking/server/coolersPlace';
import { ChoiceBox, numberWithin, TextBox, Tick } from '#ui/Form.tsx';
import { useWidth } from '#ui/useWidth';
import { RankingRail } from './RankingRail.tsx';

const SCALE: RankingScale = { factor: 1000, unit: 'mK/W' };
const NO_FACTS = { material_id: null, kind: 'cooler', conducts: null, permanent: null, cost: null, currency: null, price_on: null };

/** Coolers of all studies at one noise or one speed. */
export function RankedCoolers({ ranking }: { ranking: CoolerRanking }) {
  const { answer, held, setupNames, studies, unread, weighting } = ranking;
  const width = useWidth();
  const unit = weighting === 'Z' ? 'dB' : `dB(${weighting})`;
  const names = Object.fromEntries((answer?.materials ?? []).map((m) => [m.material, m.material]));
  const othersOnly = !answer && ranking.has_other_labs && ranking.labs === 'own';
  const told = answer && headlineOf(answer, names, SCALE, 'cooler');
  const at = held.by === 'noise' ? `At ${held.at} ${unit}` : `At ${held.at} rpm`;
  const materials = (answer?.materials ?? []).map(
    (m): RailMaterial => ({ ...m, ...NO_FACTS, claimed_w_per_mk: null, bond_line_um: null, name: m.material, newest_s: null }),
  );
  const hrefOf = (cooler: string) => `/studies/${ranking.study_of[cooler]}/coolers`;
  return (
    <>
      <h1 className="max-w-5xl text-verdict leading-tight font-semibold">
        {told ? keepUnits(`${at}: ${told.claim}`) : `${at} no cooler${othersOnly ? ' of this lab' : ''} can be read.`}
      </h1>
      {othersOnly && <p className="mt-2 text-name">Other labs measured coolers: tick “With other labs”.</p>}
      {told && <p className="mt-2 max-w-4xl text-name">{keepUnits(told.basis)}</p>}
      <HeldForm ranking={ranking} unit={unit} />
      {answer && (
        <section className="mt-4" aria-label="All coolers">
          <RankingRail
            {...{ materials, names, width, hrefOf }}
            reference={answer.reference}
            scale={SCALE}
            digits={scaleDigits(answer, SCALE)}
            noun="Cooler"
          />
          {answer.apart.length > 0 && (
            <p className="mt-2">
              Not connected to {answer.reference} by any set-up: {list(answer.apart)}.
            </p>
          )}
        </section>
      )}
      {unread.length > 0 && (
        <p className="mt-2 text-soft">
          {at} these were not measured: {list(unread)}.
        </p>
      )}
      <section className="section-rule mt-8" aria-labelledby="setups-heading">
        <h2 id="setups-heading" className="text-title font-semibold">
          Set-ups
        </h2>
        <p className="max-w-3xl text-soft">
          A rig with what lies under the coolers. Levels at another distance are another set-up; levels of one weighting are compared, here{' '}
          {unit}.
        </p>
        <ul className="mt-2">
          {Object.entries(setupNames).map(([key, name]) => (
            <li key={key} className="py-1">
              <span className="font-semibold">{name}</span>:{' '}
              {studies[key].map((s, i) => (
                <span key={s.study_id}>
                  {i > 0 && ', '}
                  <a href={`/studies/${s.study_id}/coolers`}>{s.study}</a>
                </span>
              ))}
            </li>
          ))}
        </ul>
      </section>
    </>
  );
}

/** At what coolers are compared: part of the address. */
function HeldForm({ ranking: { held, labs, answer, has_other_labs }, unit }: { ranking: CoolerRanking; unit: string }) {
  const [by, setBy] = useState(held.by);
  const [at, setAt] = useState(String(held.at));
  const value = by === 'noise' ? numberWithin(at, 0, 120) : numberWithin(at, 50, 30_000);
  const go = (reference: string, wanted = labs) => {
    if (value === null) return;
    const query = new URLSearchParams({ by, at: String(value), reference, ...(wanted === 'all' ? { labs: wanted } : {}) });
    window.location.assign(`/ranking/coolers?${query}`);
  };
  return (
    <form
      className="mt-4 flex flex-wrap items-end gap-4"
      onSubmit={(e) => {
        e.preventDefault();
        go(answer?.reference ?? '');
      }}
    >
      <div className="w-40">
        <ChoiceBox
          label="Compare at"
          value={by}
          choices={[
            ['noise', 'one noise'],
            ['speed', 'one fan speed'],
          ]}
          onChange={setBy}
        />
      </div>
      <div className="w-36">
        <TextBox
          label={by === 'noise' ? `Noise / ${unit}` : 'Fan speed / rpm'}
          className="figure"
          inputMode="decimal"
          value={at}
          error={value === null ? `A number from ${by === 'noise' ? '0 to 120' : '50 to 30 000'}.` : undefined}
          onChange={setAt}
        />
      </div>
      <button type="submit" className="quiet" disabled={value === null}>
        Compare coolers
      </button>
      {answer && (
        <div className="w-52">
          <ChoiceBox label="Reference" value={answer.reference} choices={answer.materials.map((m) => m.material)} onChange={(r) => go(r)} />
        </div>
      )}
      {has_other_labs && (
        <Tick words="With other labs" checked={labs === 'all'} onChange={(on) => go(answer?.reference ?? '', on ? 'all' : 'own')} />
      )}
    </form>
  );
}
