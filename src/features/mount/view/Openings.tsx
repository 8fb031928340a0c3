import { useState } from 'react';
import { sentenceCase } from '#core/text/words';
import { FOUND, type Found, foundWords } from '#features/mount/model/opening';
import { TextBox, TextButton, Tick } from '#ui/Form.tsx';
import { Moment } from '#ui/Moment.tsx';
import { Section } from '#ui/Words.tsx';
import { RecordForm } from './RecordForm.tsx';
import type { MountDesk } from './useMount';

/** What was found when the mount was opened again, after days or weeks. */
export function Openings({ desk }: { desk: MountDesk }) {
  const shown = desk.view.openings.filter((o) => o.removed_at === null);
  const removed = desk.view.openings.filter((o) => o.removed_at !== null);
  const [found, setFound] = useState<Found[]>([]);
  const [note, setNote] = useState('');
  const toggle = (f: Found, on: boolean) => {
    // as it was made excludes all else
    if (f === 'as_made') setFound(on ? ['as_made'] : []);
    else setFound(on ? [...found.filter((o) => o !== 'as_made'), f] : found.filter((o) => o !== f));
  };
  return (
    <Section id="openings" title="Opened again" className="mt-8">
      {shown.length === 0 && (
        <p className="text-soft">Not yet. What the opened interface looks like shows why it changed; photographs of it belong above.</p>
      )}
      <ul>
        {shown.map((o) => (
          <li key={o.id} className="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-2">
            <span className="font-semibold">{sentenceCase(foundWords(o.found))}</span>
            <span className="text-soft">
              <Moment at={o.opened_at} to="day" />
              {o.who && ` · ${o.who}`}
            </span>
            {o.note && <span>{o.note}</span>}
            <TextButton className="ml-auto text-note" onClick={() => void desk.removeOpening(o.id, true)}>
              Take out
            </TextButton>
          </li>
        ))}
      </ul>
      {removed.map((o) => (
        <p key={o.id} className="text-note text-soft">
          Taken out: {foundWords(o.found)}. <TextButton onClick={() => void desk.removeOpening(o.id, false)}>Put back</TextButton>
        </p>
      ))}
      <RecordForm
        ask="Record an opening …"
        keep="Save opening"
        ready={found.length > 0 && !desk.busy}
        onKeep={async () => {
          if (!(await desk.recordOpening(found, note))) return false;
          setFound([]);
          setNote('');
          return true;
        }}
      >
        <fieldset className="grid gap-x-6 sm:grid-cols-2">
          <legend className="font-semibold">What was found</legend>
          {(Object.keys(FOUND) as Found[]).map((f) => (
            <Tick key={f} hand words={FOUND[f]} checked={found.includes(f)} onChange={(on) => toggle(f, on)} />
          ))}
        </fieldset>
        <TextBox label="Where, and how much" className="min-h-12" value={note} maxLength={500} onChange={setNote} />
      </RecordForm>
    </Section>
  );
}
