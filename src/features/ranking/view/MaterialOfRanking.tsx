import type { Drift } from '#core/ranking/drift';
import { keepUnits, plural, write, writeSigned } from '#core/text/words';
import { addressOf } from '#features/ranking/model/choiceAddress';
import { evidenceWords, isMoreCareful } from '#features/ranking/model/rankingWords';
import type { MaterialPlace } from '#features/ranking/server/materialPlace';
import { Table } from '#ui/Table.tsx';
import { TimeChart } from './TimeChart.tsx';

const LEVEL = 0.05;

/** Whether a material changed with the years, by its occasions. */
function driftWords({ per_year, ci95: [low, high], occasions }: Drift): string {
  const basis = `over ${occasions} occasions, each set-up by itself`;
  return low > 0 || high < 0
    ? `It drifts by ${writeSigned(per_year, 1)} mm²·K/W a year (95 % ${write(low, 1)} to ${write(high, 1)}, ${basis}): a lot, the way it is applied, or all that stands on the set-up changed.`
    : `No drift detected: ${write(low, 1)} to ${write(high, 1)} mm²·K/W a year would fit, ${basis}.`;
}

/** One material: what each set-up says of it, what the others would have said, its mounts over time and its lots. */
export function MaterialOfRanking({ place }: { place: MaterialPlace }) {
  const { material: m, reference, names, setups, mounts, drift, lots, choice } = place;
  const isReference = m.material === reference.key;
  const dated = mounts.filter((x) => x.at_s !== null);
  return (
    <>
      <p>
        <a href={`/ranking${addressOf(choice)}`}>All materials</a>
        {m.material_id !== null && (
          <>
            {' · '}
            <a href={`/shelf/materials/${m.material_id}`}>Its sheet on the shelf</a>
          </>
        )}
      </p>
      <h1 className="mt-2 max-w-4xl text-verdict leading-tight font-semibold">
        {isReference
          ? `${m.name} is the reference.`
          : keepUnits(
              `${m.name}: ${writeSigned(m.difference, 1)} mm²·K/W against ${reference.name} (95 % ${write(m.ci95[0], 1)} to ${write(m.ci95[1], 1)}).`,
            )}
      </h1>
      <p className="mt-2 max-w-3xl text-name">
        {plural(m.setups, 'set-up')}, {plural(m.mounts, 'mount')}
        {!isReference &&
          `; compared ${m.through === null ? `directly, ${evidenceWords(null, m.shared_setups, names)}` : evidenceWords(m.through, 0, names)}`}
        {m.shown95 &&
          `. A set-up not measured yet would show ${write(m.shown95[0], 1)} to ${write(m.shown95[1], 1)}${isMoreCareful(m) ? '; the interval above is wider, as it rests on few degrees of freedom' : ''}`}
        .
      </p>
      <section className="section-rule mt-8" aria-labelledby="says-heading">
        <h2 id="says-heading" className="pb-2 text-title font-semibold">
          What each set-up says
        </h2>
        <Table
          label="What each set-up says"
          least="min-w-[720px]"
          rows={setups}
          keyOf={(s) => s.key}
          columns={[
            {
              head: 'Set-up',
              names: true,
              className: 'font-normal',
              cell: (s) => (
                <>
                  <span className="font-semibold">{s.name}</span>
                  <br />
                  <span className="text-soft">{keepUnits(s.words)}</span>
                </>
              ),
            },
            { head: 'Mounts', figure: true, cell: (s) => s.mounts },
            !isReference && {
              head: `Against ${reference.name} / mm²·K/W`,
              figure: true,
              cell: (s) => (s.lead === null ? 'not both' : writeSigned(s.lead, 1)),
            },
            {
              head: 'The others would have said',
              cell: ({ against: a }) =>
                a === null ? (
                  <span className="text-soft">too few others</span>
                ) : (
                  <span className={a.p_adjusted < LEVEL ? 'font-semibold' : ''}>
                    {`${writeSigned(a.others, 1)} against ${names[a.base] ?? a.base}, here ${writeSigned(a.direct, 1)}: ${a.p_adjusted < LEVEL ? 'disagrees' : 'agrees'} (p\u00a0${a.p_adjusted < 0.001 ? '< 0.001' : write(a.p_adjusted, 3)})`}
                  </span>
                ),
            },
          ]}
        />
      </section>
      {dated.length > 1 && (
        <section className="section-rule mt-8" aria-labelledby="years-heading">
          <h2 id="years-heading" className="pb-1 text-title font-semibold">
            Over the years
          </h2>
          <p className="max-w-3xl">
            {drift === null
              ? 'No drift can be said yet: that takes three occasions on one set-up, or two on each of two, more than a month after the first mount of the one before.'
              : keepUnits(driftWords(drift))}
          </p>
          <TimeChart
            title={`${m.name} over the years`}
            name="Difference / mm²·K/W"
            points={dated.map((x) => ({
              at_s: x.at_s as number,
              value: x.value,
              words: `${x.study}, ${x.setup}${x.lot && `, lot ${x.lot}`}`,
            }))}
            note="Marks: mounts, each less the level of its set-up, so that set-ups lie on one scale."
            digits={1}
          />
        </section>
      )}
      {lots.length > 0 && (
        <section className="section-rule mt-8" aria-labelledby="lots-heading">
          <h2 id="lots-heading" className="pb-2 text-title font-semibold">
            Lots
          </h2>
          <Table
            label="Lots"
            rows={lots}
            keyOf={(l) => l.lot}
            columns={[
              { head: 'Lot', names: true, className: 'font-normal', cell: (l) => l.lot || 'not noted' },
              { head: 'Mounts', figure: true, cell: (l) => l.mounts },
              { head: `Mean against ${reference.name} / mm²·K/W`, figure: true, cell: (l) => writeSigned(l.mean, 1) },
              { head: 'SD between mounts / mm²·K/W', figure: true, cell: (l) => (l.sd === null ? '–' : write(l.sd, 1)) },
            ]}
          />
          <p className="mt-2 text-soft">
            {choice.lots === 'apart' ? 'Lots stand apart in the ranking.' : 'Lots are together in the ranking.'}{' '}
            <a href={`/ranking${addressOf({ ...choice, lots: choice.lots === 'apart' ? 'together' : 'apart' })}`}>
              {choice.lots === 'apart' ? 'Rank them together' : 'Rank them apart'}
            </a>
          </p>
        </section>
      )}
    </>
  );
}
