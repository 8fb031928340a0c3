import { list, plural, write, writeSigned } from '#core/text/words';
import { addressOf } from '#features/ranking/model/choiceAddress';
import type { LabsPlace } from '#features/ranking/server/labsPlace';
import { ChoiceBox } from '#ui/Form.tsx';
import { Table } from '#ui/Table.tsx';

const LEVEL = 0.05;

/** Labs beside each other: how well they repeat themselves, and each other. */
export function LabsDesk({ place }: { place: LabsPlace }) {
  const { labs, shared, reference, materials, choice, own_name } = place;
  const apart = shared.filter((s) => s.told.p < LEVEL);
  const without = labs.filter((l) => !l.has_reference);
  return (
    <>
      <h1 className="max-w-4xl text-verdict leading-tight font-semibold">
        {headline(
          place,
          apart.map((s) => s.name),
        )}
      </h1>
      <p className="mt-2 max-w-3xl text-name">
        {list(
          labs.map((l) => `${l.name}: ${plural(l.setups, 'set-up')}, ${plural(l.materials, 'material')}, ${plural(l.mounts, 'mount')}`),
        )}
        . Another lab’s studies come in as packages.
      </p>
      {without.length > 0 && labs.length > 1 && (
        <p className="mt-1 text-soft">
          {list(without.map((l) => l.name))} did not measure {reference?.name}; choose a reference that all labs have.
        </p>
      )}
      {reference && labs.length > 1 && (
        <div className="mt-4 w-60">
          <ChoiceBox
            label="Reference"
            value={reference.key}
            choices={materials.map((m) => [m.key, m.name] as const)}
            onChange={(key) => window.location.assign(`/ranking/labs${addressOf({ ...choice, reference: key })}`)}
          />
        </div>
      )}
      {labs.length < 2 && (
        <p className="mt-5 flex gap-3">
          <a className="act inline-block" href="/studies">
            Bring in a package
          </a>
          <a className="quiet inline-block" href="/help">
            What a package holds
          </a>
        </p>
      )}
      {shared.length > 0 && (
        <section className="section-rule mt-8" aria-labelledby="precision-heading">
          <h2 id="precision-heading" className="pb-2 text-title font-semibold">
            Repeatability and reproducibility
          </h2>
          <Table
            label="Repeatability and reproducibility"
            least="min-w-[760px]"
            rows={shared}
            keyOf={(s) => s.key}
            columns={[
              { head: 'Material', names: true, className: 'font-normal', cell: (s) => s.name },
              { head: 'Within a lab, s_r / mm²·K/W', figure: true, cell: ({ told }) => sd(told.repeatability_sd) },
              { head: 'Between labs, s_L / mm²·K/W', figure: true, cell: ({ told }) => sd(told.lab_sd) },
              { head: 'In another lab, s_R / mm²·K/W', figure: true, cell: ({ told }) => sd(told.reproducibility_sd) },
              {
                head: 'Labs',
                cell: ({ told }) => (
                  <span className={told.p < LEVEL ? 'font-semibold' : ''}>
                    {told.p < LEVEL ? 'disagree' : 'agree'} (p {told.p < 0.001 ? '< 0.001' : write(told.p, 3)})
                  </span>
                ),
              },
            ]}
          />
          <p className="mt-2 max-w-3xl text-soft">
            ISO 5725-2: s_r is the standard deviation between mounts within a lab, s_R that of a mount in another lab. Between labs by Paule
            and Mandel, as labs made different numbers of mounts. With two or three labs s_L is rough.
          </p>
        </section>
      )}
      {shared.map((s) => (
        <section key={s.key} className="mt-8" aria-label={s.name}>
          <h3 className="pb-1 text-name font-semibold">{s.name}</h3>
          <Table
            label={`Labs on ${s.name}`}
            least="min-w-[680px]"
            rows={s.told.labs}
            keyOf={(l) => l.lab}
            columns={[
              { head: 'Lab', names: true, className: 'font-normal', cell: (l) => l.lab },
              { head: `Against ${reference?.name} / mm²·K/W`, figure: true, cell: (l) => `${writeSigned(l.lead, 1)} ± ${write(l.se, 1)}` },
              { head: 'Mounts', figure: true, cell: (l) => l.mounts },
              {
                head: 'Level, h',
                figure: true,
                className: (l) => (l.h_stands_out ? 'font-semibold' : ''),
                cell: (l) => (l.h === null ? '–' : `${writeSigned(l.h, 2)}${l.h_stands_out ? ' stands out' : ''}`),
              },
              {
                head: 'Scatter, k',
                figure: true,
                className: (l) => (l.k_stands_out ? 'font-semibold' : ''),
                cell: (l) => (l.k === null ? '–' : `${write(l.k, 2)}${l.k_stands_out ? ' stands out' : ''}`),
              },
            ]}
          />
          {s.own && s.all && (
            <p className="mt-1">
              Ranked with {own_name.toLowerCase()} alone {writeSigned(s.own.difference, 1)} ({write(s.own.ci95[0], 1)} to{' '}
              {write(s.own.ci95[1], 1)}), with all labs {writeSigned(s.all.difference, 1)} ({write(s.all.ci95[0], 1)} to{' '}
              {write(s.all.ci95[1], 1)}) mm²·K/W.
            </p>
          )}
        </section>
      ))}
      {labs.length > 1 && (
        <p className="mt-6">
          <a href={`/ranking${addressOf({ ...choice, labs: 'all' })}`}>The ranking with all labs</a> ·{' '}
          <a href={`/ranking${addressOf({ ...choice, labs: 'own' })}`}>with this lab alone</a>
        </p>
      )}
    </>
  );
}

const sd = (value: number | null): string => (value === null ? '–' : write(value, 1));

function headline({ labs, shared }: LabsPlace, apart: string[]): string {
  if (labs.length < 2) return 'No other lab’s studies are here yet.';
  if (shared.length === 0) return 'No material was measured by two labs against the same reference.';
  if (apart.length === 0) return `The labs agree on ${plural(shared.length, 'material')}.`;
  return `The labs disagree on ${list(apart)}.`;
}
