import { Play, Square } from 'lucide-react';
import { type ReactNode, useId, useState } from 'react';
import { write } from '#core/text/words';
import { numberWithin, Options, Quiet, TextButton, Tick } from '#ui/Form.tsx';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { send, sendJson } from '#ui/send';
import { Section } from '#ui/Words.tsx';
import { usePlayback } from './usePlayback';

interface SoundClip {
  id: number;
  specimen: string;
  position: number;
  name: string;
  rpm: number | null;
  level_db: number | null;
  note: string;
  removed_at: Date | string | null;
}

interface SoundClipsProps {
  specimens: { id: number; name: string; position: number }[];
  initial: SoundClip[];
}

/** Clips of the coolers, heard beside each other: as strong as each other for their character, or as loud as they were measured. */
export function SoundClips({ specimens, initial }: SoundClipsProps) {
  const [clips, setClips] = useState(initial);
  const shown = clips.filter((c) => c.removed_at === null);
  const gone = clips.filter((c) => c.removed_at !== null);
  const { how, choose, playing, play, stop, told } = usePlayback(shown);
  const [problem, setProblem] = useState<string | null>(null);
  const setRemoved = async (id: number, removed: boolean) => {
    const saved = await sendJson('PATCH', `/api/clips/${id}`, { removed }, setProblem);
    if (!saved) return;
    if (removed) stop();
    setClips((all) => all.map((c) => (c.id === id ? { ...c, removed_at: removed ? new Date() : null } : c)));
  };
  return (
    <Section id="clips" title="To be heard" className="mt-8">
      {shown.length === 0 && (
        <p className="text-soft">
          No clip yet. Ten seconds of each cooler at the noise they are compared at tell what a level cannot: hum, rattle, whine.
        </p>
      )}
      {shown.length > 0 && (
        <>
          <fieldset className="mt-1 flex flex-wrap gap-x-6">
            <legend className="sr-only">How clips are played</legend>
            {(
              [
                ['matched', 'All as strong as each other: only the character differs'],
                ['measured', 'As loud as their measured levels'],
              ] as const
            ).map(([key, words]) => (
              <Tick key={key} words={words} name="played" checked={how === key} onChange={() => choose(key)} />
            ))}
          </fieldset>
          <ul>
            {shown.map((c) => (
              <li key={c.id} className="flex flex-wrap items-center gap-x-4 border-b border-rule py-2">
                <Quiet
                  className="inline-flex items-center gap-2"
                  aria-label={`${playing === c.id ? 'Stop' : 'Play'} ${c.specimen}${c.rpm === null ? '' : ` at ${write(c.rpm, 0)} rpm`}`}
                  onClick={() => (playing === c.id ? stop() : void play(c.id))}
                >
                  {playing === c.id ? <Square size={16} aria-hidden="true" /> : <Play size={16} aria-hidden="true" />}
                  {playing === c.id ? 'Stop' : 'Play'}
                </Quiet>
                <span className="inline-flex items-center gap-2 font-semibold">
                  <SpecimenMark position={c.position} />
                  {c.specimen}
                </span>
                <span className="figure">{c.rpm === null ? '' : `${write(c.rpm, 0)} rpm`}</span>
                <span className="figure">{c.level_db === null ? 'no level read' : `${write(c.level_db, 1)} dB`}</span>
                <span>{c.note}</span>
                <TextButton className="ml-auto text-note" onClick={() => void setRemoved(c.id, true)}>
                  Take out
                </TextButton>
              </li>
            ))}
          </ul>
        </>
      )}
      {gone.map((c) => (
        <p key={c.id} className="text-note text-soft">
          Taken out: {c.specimen}, {c.name}. <TextButton onClick={() => void setRemoved(c.id, false)}>Put back</TextButton>
        </p>
      ))}
      {(told ?? problem) && (
        <p role="alert" className="mt-2 text-ember">
          {told ?? problem}
        </p>
      )}
      <AddClip
        specimens={specimens}
        onAdded={(clip) => setClips((all) => [...all, clip].sort((a, b) => a.position - b.position || (a.rpm ?? 1e9) - (b.rpm ?? 1e9)))}
      />
    </Section>
  );
}

function AddClip({ specimens, onAdded }: { specimens: SoundClipsProps['specimens']; onAdded: (clip: SoundClip) => void }) {
  const id = useId();
  const [open, setOpen] = useState(false);
  const [file, setFile] = useState<File | null>(null);
  const [specimen, setSpecimen] = useState(String(specimens[0]?.id ?? ''));
  const [rpm, setRpm] = useState('');
  const [level, setLevel] = useState('');
  const [note, setNote] = useState('');
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  if (!open)
    return (
      <Quiet className="mt-3" onClick={() => setOpen(true)}>
        Add a clip …
      </Quiet>
    );
  const number = (text: string, min: number, max: number) => (text.trim() === '' ? null : numberWithin(text, min, max));
  const wrong = (text: string, min: number, max: number) => text.trim() !== '' && numberWithin(text, min, max) === null;
  const add = async () => {
    if (!file) return;
    setBusy(true);
    const about = { rpm: number(rpm, 1, 100_000), level_db: number(level, 0, 140), note };
    const form = new FormData();
    form.set('clip', file, file.name);
    form.set('about', JSON.stringify(about));
    const saved = await send<{ id: number }>(`/api/specimens/${specimen}/clips`, { method: 'POST', body: form }, setTold);
    setBusy(false);
    if (!saved) return;
    const of = specimens.find((s) => String(s.id) === specimen);
    onAdded({ ...about, id: saved.id, specimen: of?.name ?? '', position: of?.position ?? 0, name: file.name, removed_at: null });
    setOpen(false);
    setFile(null);
    setNote('');
  };
  return (
    <form
      className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-3 border-l-2 border-rule pl-4"
      onSubmit={(e) => {
        e.preventDefault();
        void add();
      }}
    >
      <Labelled id={`${id}-file`} label="Clip, WAV, FLAC, Ogg, MP3 or M4A">
        <input id={`${id}-file`} type="file" accept="audio/*" onChange={(e) => setFile(e.target.files?.[0] ?? null)} />
      </Labelled>
      <Labelled id={`${id}-of`} label="Cooler">
        <select id={`${id}-of`} className="field" value={specimen} onChange={(e) => setSpecimen(e.target.value)}>
          <Options choices={specimens.map((s) => [s.id, s.name] as const)} />
        </select>
      </Labelled>
      <Labelled id={`${id}-rpm`} label="Fan / rpm">
        <input
          id={`${id}-rpm`}
          className="field figure w-28"
          inputMode="decimal"
          value={rpm}
          aria-invalid={wrong(rpm, 1, 100_000)}
          onChange={(e) => setRpm(e.target.value)}
        />
      </Labelled>
      <Labelled id={`${id}-level`} label="Level there / dB">
        <input
          id={`${id}-level`}
          className="field figure w-28"
          inputMode="decimal"
          value={level}
          aria-invalid={wrong(level, 0, 140)}
          onChange={(e) => setLevel(e.target.value)}
        />
      </Labelled>
      <Labelled id={`${id}-note`} label="Character">
        <input id={`${id}-note`} className="field w-56" value={note} maxLength={200} onChange={(e) => setNote(e.target.value)} />
      </Labelled>
      <button type="submit" className="act" disabled={!file || busy || wrong(rpm, 1, 100_000) || wrong(level, 0, 140)}>
        Keep the clip
      </button>
      <Quiet onClick={() => setOpen(false)}>Back</Quiet>
      {told && (
        <p role="alert" className="basis-full text-ember">
          {told}
        </p>
      )}
      <p className="basis-full text-note text-soft">
        One microphone, one place and one gain for all. The level is the meter’s at that speed; without it the clip is played matched only.
      </p>
    </form>
  );
}

const Labelled = ({ id, label, children }: { id: string; label: string; children: ReactNode }) => (
  <div>
    <label htmlFor={id} className="block text-note text-soft">
      {label}
    </label>
    {children}
  </div>
);
