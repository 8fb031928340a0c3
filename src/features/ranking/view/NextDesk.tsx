import { useState } from 'react';
import type { NextStudy } from '#core/ranking/nextStudy';
import { list, plural, write } from '#core/text/words';
import { addressOf } from '#features/ranking/model/choiceAddress';
import type { NextPlace, Proposals } from '#features/ranking/server/nextStudy';
import { Act, Alert, Tick } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { useNumbers } from '#ui/useNumbers.tsx';

/** What was found, with the mounts of each that were asked for. */
type Found = Proposals & { mounts: number };

/** Hours at hand, and the studies that tell most for them. */
export function NextDesk({ place }: { place: NextPlace }) {
  const { choice, materials, names, setups } = place;
  const [chosen, setChosen] = useState<string[]>([]);
  const [found, setFound] = useState<Found | null>(null);
  const [isAsking, setAsking] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const { all, box } = useNumbers({
    // enough for three materials as mounts are usually made here
    hours: { label: 'Bench hours at hand', start: Math.ceil(3 * place.mounts * place.hours_per_mount), min: 0.1, max: 2000 },
    mounts: { label: 'Mounts of each', start: place.mounts, min: 1, max: 50 },
    hours_per_mount: { label: 'One mount with its runs / h', start: place.hours_per_mount, min: 0.05, max: 200 },
  });
  const nameOf = (key: string) => names[key] ?? key;
  const wordsOf = (s: NextStudy) => setups.find((k) => k.name === s.setup);
  const address = addressOf(choice);
  const ask = async () => {
    setAsking(true);
    const answer = await sendJson<Proposals>('POST', `/api/ranking/next${address}`, { ...all, candidates: chosen }, setProblem);
    setAsking(false);
    setFound(answer && { ...answer, mounts: all?.mounts ?? 1 });
  };
  const plan = async (s: NextStudy) => {
    const opened = await sendJson<{ id: number }>(
      'POST',
      `/api/ranking/plan${address}`,
      { setup: s.setup, materials: s.materials, mounts: found?.mounts },
      setProblem,
    );
    if (opened) window.location.assign(`/studies/${opened.id}/plan`);
  };
  return (
    <>
      <h1 className="max-w-4xl text-verdict leading-tight font-semibold">What would tell you most?</h1>
      <p className="mt-2 max-w-3xl text-name">
        Every set of two to six materials in every set-up at hand is tried: which makes the open comparisons surest for the hours you have.
      </p>
      <form
        className="mt-5"
        onSubmit={(e) => {
          e.preventDefault();
          void ask();
        }}
      >
        <div className="grid max-w-3xl gap-x-4 gap-y-2 sm:grid-cols-3">
          {box('hours')}
          {box('mounts')}
          {box('hours_per_mount')}
        </div>
        <fieldset className="mt-4">
          <legend className="font-semibold">Materials to choose from</legend>
          <p className="text-soft">None chosen: those that are not distinguishable at the top, with the reference.</p>
          <div className="mt-1 grid grid-cols-2 gap-x-6 sm:grid-cols-3 lg:grid-cols-5">
            {materials.map((m) => (
              <Tick
                key={m.key}
                words={m.name}
                checked={chosen.includes(m.key)}
                onChange={(on) => setChosen(on ? [...chosen, m.key] : chosen.filter((k) => k !== m.key))}
              />
            ))}
          </div>
        </fieldset>
        <div className="mt-4">
          <button type="submit" className="act" disabled={all === null || isAsking}>
            Find the next study
          </button>
          {isAsking && <span className="ml-3 text-soft">Trying every set …</span>}
        </div>
      </form>
      <Alert>{problem}</Alert>
      {found?.studies.length === 0 && (
        <p className="mt-6 text-name">
          Nothing that fits into these hours makes a comparison surer. Give more hours, or choose other materials.
        </p>
      )}
      {found && found.studies.length > 0 && (
        <ol className="mt-6 grid gap-5" aria-label="Proposals">
          {found.studies.map((s, i) => {
            const setup = wordsOf(s);
            return (
              <li key={`${s.setup} ${s.materials.join()}`} className="section-rule grid gap-x-8 gap-y-2 sm:grid-cols-[1fr_auto]">
                <div>
                  <h2 className="text-title leading-tight font-semibold">
                    {list(s.materials.map(nameOf))} on {setup?.words ?? s.setup}
                    {setup?.isNew && <span className="font-normal text-soft">, new in the ranking</span>}
                  </h2>
                  <p className="mt-1 text-name">{gainWords(s, nameOf)}</p>
                  <p className="text-soft">
                    {plural(s.materials.length * found.mounts, 'mount')}, {write(s.hours, 1)} h. Mean standard error of what is open:{' '}
                    <span className="figure">
                      {write(Math.sqrt(s.before), 2)} → {write(Math.sqrt(s.after), 2)} mm²·K/W
                    </span>
                  </p>
                  <ShortOf words={shortWords(s, found.short, nameOf)} />
                </div>
                <div>
                  {i === 0 ? (
                    <Act onClick={() => void plan(s)}>Plan this study</Act>
                  ) : (
                    <button type="button" className="quiet" onClick={() => void plan(s)}>
                      Plan this study
                    </button>
                  )}
                </div>
              </li>
            );
          })}
        </ol>
      )}
      <p className="mt-6 max-w-3xl text-soft">
        A set-up measured again makes only its mounts surer; a new one also tells how far a lead differs between set-ups. With more than
        twelve materials the best pair is grown and exchanged, which may miss the best set.
      </p>
    </>
  );
}

/** The gain in the unit of the intervals. */
function gainWords({ most }: NextStudy, nameOf: (key: string) => string): string {
  const percent = Math.round(100 * (1 - most.share));
  const pair = `${nameOf(most.a)} against ${nameOf(most.b)}`;
  if (percent < 1) return `Narrows the interval of ${pair} by less than 1 %.`;
  return percent >= 45 && percent <= 55 ? `Halves the interval of ${pair}.` : `Narrows the interval of ${pair} by ${percent} %.`;
}

const ShortOf = ({ words }: { words: string | null }) =>
  words && (
    <p role="note" className="mt-1 border-l-4 border-ember pl-3">
      {words}
    </p>
  );

/** What the shelf holds too little of; nothing where it holds enough. */
function shortWords({ materials }: NextStudy, short: Record<string, number>, nameOf: (key: string) => string): string | null {
  const told = materials.flatMap((m) =>
    m in short ? [short[m] === 0 ? `no ${nameOf(m)}` : `${nameOf(m)} for ${plural(short[m], 'mount')}`] : [],
  );
  return told.length === 0 ? null : `Left on the shelf: ${told.join('; ')}.`;
}
