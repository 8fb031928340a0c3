import { useState } from 'react';
import type { MovedMount } from '#features/run/server/moveMount';
import { Alert, Field, Options, Quiet, TextBox, TextButton } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { offerUndo } from '#ui/undo';
import { useSeen } from '#ui/useSeen';
import { usePlaces } from './import/usePlaces';
import { SpecimenPick } from './SpecimenPick.tsx';

/** Moves a mount that was made of something else, on another rig or under another number than it was written down. */
export function MoveMount({ mountId, studyId }: { mountId: number; studyId: number }) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <TextButton className="min-h-9 text-note" onClick={() => setOpen(true)}>
        Move this mount to another specimen, rig or number …
      </TextButton>
    );
  return <MoveForm {...{ mountId, studyId }} onClose={() => setOpen(false)} />;
}

function MoveForm({ mountId, studyId, onClose }: { mountId: number; studyId: number; onClose: () => void }) {
  const { data, problem, need } = usePlaces(studyId);
  const [study, setStudy] = useState(studyId);
  const [specimen, setSpecimen] = useState<number | null>(null);
  const [rig, setRig] = useState<number | null>(null);
  const [number, setNumber] = useState('');
  const [reason, setReason] = useState('');
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const own = data?.mounts.find((m) => m.id === mountId);
  const { seen, refused } = useSeen(own && { specimen_id: own.specimen_id, rig_id: own.rig_id, number: own.number });
  if (!data) return <p className="mt-2 text-soft">{problem ?? 'Listing the specimens…'}</p>;
  const specimens = data.specimens.filter((s) => s.study_id === study);
  const to = specimen ?? specimens.find((s) => s.id === own?.specimen_id)?.id ?? specimens[0]?.id ?? null;
  const onRig = rig ?? own?.rig_id ?? null;
  const move = async () => {
    setBusy(true);
    const url = `/api/mounts/${mountId}/place`;
    const who = localStorage.getItem('initials') ?? '';
    const asked = number.trim() === '' ? null : Number(number);
    const body = { specimen_id: to, rig_id: onRig, number: asked, reason, who, seen: seen() };
    const moved = await sendJson<MovedMount>('PUT', url, body, setTold, refused);
    setBusy(false);
    if (!moved) return;
    offerUndo({
      words: `The mount is mount ${moved.number} there now; its runs are read again.`,
      ...{ method: 'PUT', url, body: { ...moved.was, seen: { specimen_id: to, rig_id: onRig, number: moved.number } } },
    });
    window.location.reload();
  };
  return (
    <form
      aria-label="Move this mount"
      className="mt-3 grid max-w-3xl items-end gap-3 border-l-4 border-ink pl-4 sm:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault();
        void move();
      }}
    >
      <SpecimenPick
        data={data}
        study={study}
        specimen={to}
        onPick={(place) => {
          need(place.study);
          setStudy(place.study);
          setSpecimen(place.specimen);
        }}
      />
      <Field label="Rig">
        {(p) => (
          <select {...p} className="field w-full" value={onRig ?? ''} onChange={(e) => setRig(Number(e.target.value))}>
            <Options choices={data.rigs.map((r) => [r.id, r.name] as const)} />
          </select>
        )}
      </Field>
      <TextBox
        label="Number"
        hint={`empty: ${own?.number ?? 'its own'}, or the next that is free`}
        inputMode="numeric"
        value={number}
        onChange={setNumber}
      />
      <div className="sm:col-span-2">
        <TextBox
          label="Reason for moving it"
          hint="stays in the history of this mount"
          maxLength={500}
          value={reason}
          onChange={setReason}
        />
      </div>
      <div className="flex gap-3 sm:col-span-2">
        <button type="submit" className="act" disabled={busy || to === null || onRig === null}>
          {busy ? 'Reading its runs there…' : 'Move the mount'}
        </button>
        <Quiet onClick={onClose}>Cancel</Quiet>
      </div>
      <Alert>{told}</Alert>
    </form>
  );
}
