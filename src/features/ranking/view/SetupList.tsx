import { useState } from 'react';
import type { AdjustedAgainstOthers } from '#core/ranking/againstOthers';
import { keepUnits, list, plural, write, writeSigned } from '#core/text/words';
import type { ToldSetup } from '#features/ranking/model/placeTypes';
import type { SetupChoice } from '#features/ranking/model/setupChoice';
import { Act, Alert, Quiet, TextBox, Tick } from '#ui/Form.tsx';
import { Moment } from '#ui/Moment.tsx';
import { sendJson } from '#ui/send';

const LEVEL = 0.05;
/** Set-ups that are drawn before all are asked for. */
const FIRST = 40;

interface SetupListProps {
  setups: ToldSetup[];
  said: SetupChoice[];
  names: Record<string, string>;
  /** null while it is being computed */
  against: AdjustedAgainstOthers[] | null;
}

/** Set-ups with what each says against the others, and the means to merge them or to split one. */
export function SetupList({ setups, said, names, against }: SetupListProps) {
  const [merging, setMerging] = useState<string[]>([]);
  const [splitting, setSplitting] = useState<{ setup: string; places: string[] } | null>(null);
  const [reason, setReason] = useState('');
  const [isWhole, setWhole] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const placesOf = (keys: string[]) => setups.filter((s) => keys.includes(s.key)).flatMap((s) => s.places.map((p) => p.key));
  const save = async (kind: SetupChoice['kind'], places: string[]) => {
    if (await sendJson('POST', '/api/ranking/setups', { kind, places, reason }, setProblem)) window.location.reload();
  };
  const undo = async (id: number) => {
    if (await sendJson('DELETE', `/api/ranking/setups/${id}`, {}, setProblem)) window.location.reload();
  };
  // those that are odd or were changed by hand come first
  const isOdd = (s: ToldSetup) => s.is_said || (against ?? []).some((a) => a.setup === s.key && a.p_adjusted < LEVEL);
  const ordered = setups.length <= FIRST ? setups : [...setups.filter(isOdd), ...setups.filter((s) => !isOdd(s))];
  const drawn = isWhole ? ordered : ordered.slice(0, FIRST);
  const split = setups.find((s) => s.key === splitting?.setup);
  return (
    <div>
      <ul>
        {drawn.map((s) => (
          <li key={s.key} className="grid gap-x-6 gap-y-1 border-b border-rule py-3 lg:grid-cols-[minmax(0,1.1fr)_minmax(0,1fr)_11rem]">
            <div>
              <Tick
                className="items-start font-semibold"
                words={
                  <span>
                    {s.name}
                    {s.is_said && <span className="font-normal text-soft"> (changed by hand)</span>}
                  </span>
                }
                checked={merging.includes(s.key)}
                onChange={(on) => setMerging(on ? [...merging, s.key] : merging.filter((k) => k !== s.key))}
              />
              <p className="text-soft">{keepUnits(s.words)}</p>
              <p>
                {plural(s.materials, 'material')}, {plural(s.mounts, 'mount')}:{' '}
                {s.places.map((p, i) => (
                  <span key={p.key}>
                    {i > 0 && ', '}
                    <a href={`/studies/${p.study_id}/results`}>{p.study}</a>
                  </span>
                ))}
              </p>
              {leftOutWords(s).map((w) => (
                <p key={w} className="text-soft">
                  {w}
                </p>
              ))}
            </div>
            <Agreement setup={s} names={names} against={against} />
            {s.places.length > 1 && (
              <div>
                <Quiet
                  onClick={() => {
                    setSplitting({ setup: s.key, places: [] });
                    setReason('');
                  }}
                >
                  Split this set-up …
                </Quiet>
              </div>
            )}
          </li>
        ))}
      </ul>
      {drawn.length < setups.length && (
        <Quiet className="mt-2" onClick={() => setWhole(true)}>
          Show all {setups.length} set-ups; {drawn.length} are shown
        </Quiet>
      )}
      {split && splitting && (
        <fieldset className="mt-4 border-l-4 border-ink pl-4">
          <legend className="text-name font-semibold">Split {split.name}</legend>
          <p>Choose what is a set-up of its own: something that counts differs there although the shelf says the same.</p>
          {split.places.map((p) => (
            <Tick
              key={p.key}
              words={`${p.study}, ${plural(p.mounts, 'mount')}`}
              checked={splitting.places.includes(p.key)}
              onChange={(on) =>
                setSplitting({ ...splitting, places: on ? [...splitting.places, p.key] : splitting.places.filter((k) => k !== p.key) })
              }
            />
          ))}
          <Reason value={reason} onChange={setReason} />
          <div className="mt-2 flex gap-3">
            <Act
              disabled={reason.trim() === '' || splitting.places.length === 0 || splitting.places.length === split.places.length}
              onClick={() => void save('apart', splitting.places)}
            >
              Split set-up
            </Act>
            <Quiet onClick={() => setSplitting(null)}>Cancel</Quiet>
          </div>
        </fieldset>
      )}
      {merging.length > 1 && (
        <fieldset className="mt-4 border-l-4 border-ink pl-4">
          <legend className="text-name font-semibold">
            Merge {list(setups.filter((s) => merging.includes(s.key)).map((s) => s.name))}
          </legend>
          <p>Right where everything but the material was the same after all. Their levels are compared directly then.</p>
          <Reason value={reason} onChange={setReason} />
          <div className="mt-2 flex gap-3">
            <Act disabled={reason.trim() === ''} onClick={() => void save('together', placesOf(merging))}>
              Merge set-ups
            </Act>
            <Quiet onClick={() => setMerging([])}>Cancel</Quiet>
          </div>
        </fieldset>
      )}
      <Alert>{problem}</Alert>
      {said.length > 0 && (
        <section className="mt-4" aria-label="Changed by hand">
          <h3 className="font-semibold">Changed by hand</h3>
          <ul>
            {said.map((c) => (
              <li key={c.id} className="flex flex-wrap items-baseline gap-x-3 py-1">
                <span>
                  {c.kind === 'together' ? 'Merged' : 'Split'}: {describe(c, setups)}. {c.reason}
                  <span className="text-soft">
                    {' '}
                    ({c.who !== '' && `${c.who}, `}
                    <Moment at={c.made_at} />)
                  </span>
                </span>
                <button type="button" className="underline" onClick={() => void undo(c.id)}>
                  Undo
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

const Reason = ({ value, onChange }: { value: string; onChange: (text: string) => void }) => (
  <div className="mt-2 max-w-xl">
    <TextBox label="Reason" hint="Stays beside the set-up." maxLength={400} value={value} onChange={onChange} />
  </div>
);

/** What one set-up says of its materials against what the others say of them. */
function Agreement({
  setup,
  names,
  against,
}: {
  setup: ToldSetup;
  names: Record<string, string>;
  against: AdjustedAgainstOthers[] | null;
}) {
  if (setup.materials === 0) return <p className="text-soft">Nothing of it is ranked.</p>;
  if (setup.materials < 2) return <p className="text-soft">One material alone: nothing to compare within it.</p>;
  if (!setup.counts) return <p className="text-soft">Not connected to the reference by any chain of set-ups.</p>;
  if (against === null) return <p className="text-soft">Not compared with the others yet.</p>;
  const own = against.filter((a) => a.setup === setup.key);
  if (own.length === 0) return <p className="text-soft">The other set-ups say too little of its materials to compare.</p>;
  const odd = own.filter((a) => a.p_adjusted < LEVEL);
  if (odd.length === 0) return <p>Agrees with the others on {plural(own.length, 'material')}.</p>;
  return (
    <div role="note" aria-label={`Finding of ${setup.name}`}>
      {odd.map((a) => (
        <p key={a.material} className="font-semibold">
          <span aria-hidden="true" className="text-ember">
            ▲{' '}
          </span>
          {names[a.material] ?? a.material} against {names[a.base] ?? a.base}: {writeSigned(a.direct, 1)} here, {writeSigned(a.others, 1)}{' '}
          mm²·K/W by the others (p {a.p_adjusted < 0.001 ? '< 0.001' : write(a.p_adjusted, 3)}).
        </p>
      ))}
      <p className="text-soft">Check pressure, lot, conditioning and runs that throttled; then merge, split or leave it as it is.</p>
    </div>
  );
}

function leftOutWords({ left_out }: ToldSetup): string[] {
  const by = new Map<string, { mounts: number; names: Set<string> }>();
  for (const l of left_out) {
    const known = by.get(l.why) ?? { mounts: 0, names: new Set<string>() };
    known.mounts += l.mounts;
    known.names.add(l.name);
    by.set(l.why, known);
  }
  return [...by].map(([why, { mounts, names }]) => `Left out: ${plural(mounts, 'mount')} of ${list([...names])}, ${why}.`);
}

/** What a choice named, as far as it is still there. */
function describe({ places }: SetupChoice, setups: ToldSetup[]): string {
  const known = setups.flatMap((s) => s.places).filter((p) => places.includes(p.key));
  const studies = [...new Set(known.map((p) => `${p.study} on ${p.rig}`))];
  return studies.length === 0 ? 'studies that are gone' : list(studies);
}
