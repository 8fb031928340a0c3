import { useState } from 'react';
import { Alert, Field, Options, Quiet, TextBox, TextButton } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { offerUndo } from '#ui/undo';
import { useSeen } from '#ui/useSeen';
import { usePlaces } from './import/usePlaces';
import { SpecimenPick } from './SpecimenPick.tsx';

interface MoveRunProps {
  runId: number;
  mountId: number;
  studyId: number;
  /** the newest entry of its journal */
  newest: number;
}

/** Moves a run that was stored under the wrong mount. */
export function MoveRun(props: MoveRunProps) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <TextButton className="mt-1 min-h-9 text-note" onClick={() => setOpen(true)}>
        Move to another mount …
      </TextButton>
    );
  return <MoveForm {...props} onClose={() => setOpen(false)} />;
}

function MoveForm({ runId, mountId, studyId, newest, onClose }: MoveRunProps & { onClose: () => void }) {
  const { data, problem, need } = usePlaces(studyId);
  const [study, setStudy] = useState(studyId);
  const [specimen, setSpecimen] = useState<number | null>(null);
  const [mount, setMount] = useState<number | null>(null);
  const [rig, setRig] = useState<number | null>(null);
  const [reason, setReason] = useState('');
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const { seen, refused } = useSeen(newest);
  if (!data) return <p className="mt-2 text-soft">{problem ?? 'Listing the mounts…'}</p>;
  const own = data.mounts.find((m) => m.id === mountId);
  const specimens = data.specimens.filter((s) => s.study_id === study);
  const chosen = specimen ?? specimens.find((s) => s.id === own?.specimen_id)?.id ?? specimens[0]?.id ?? null;
  const mounts = data.mounts.filter((m) => m.specimen_id === chosen && m.id !== mountId);
  const onRig = rig ?? own?.rig_id ?? data.rigs[0]?.id ?? null;
  const move = async () => {
    setBusy(true);
    const where = mount === null ? { specimen_id: chosen, rig_id: onRig } : { mount_id: mount };
    const who = localStorage.getItem('initials') ?? '';
    const moved = await sendJson('PUT', `/api/runs/${runId}/mount`, { ...where, reason, who, seen: seen() }, setTold, refused);
    setBusy(false);
    if (!moved) return;
    offerUndo({
      words: 'The run is moved, and read again there.',
      ...{ method: 'PUT', url: `/api/runs/${runId}/mount`, body: { mount_id: mountId } },
    });
    window.location.reload();
  };
  return (
    <form
      aria-label="Move this run"
      className="mt-3 grid max-w-3xl items-end gap-3 border-l-4 border-ink pl-4 sm:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault();
        void move();
      }}
    >
      <SpecimenPick
        data={data}
        study={study}
        specimen={chosen}
        onPick={(place) => {
          need(place.study);
          setStudy(place.study);
          setSpecimen(place.specimen);
          setMount(null);
        }}
      />
      <Field label="Mount">
        {(p) => (
          <select {...p} className="field w-full" value={mount ?? ''} onChange={(e) => setMount(Number(e.target.value) || null)}>
            <option value="">a new mount</option>
            <Options choices={mounts.map((m) => [m.id, `Mount ${m.number}, ${m.rig}`] as const)} />
          </select>
        )}
      </Field>
      {mount === null && (
        <Field label="Rig">
          {(p) => (
            <select {...p} className="field w-full" value={onRig ?? ''} onChange={(e) => setRig(Number(e.target.value))}>
              <Options choices={data.rigs.map((r) => [r.id, r.name] as const)} />
            </select>
          )}
        </Field>
      )}
      <div className="sm:col-span-2">
        <TextBox label="Reason for moving it" hint="stays in the history of this run" maxLength={500} value={reason} onChange={setReason} />
      </div>
      <div className="flex gap-3 sm:col-span-2">
        <button type="submit" className="act" disabled={busy || chosen === null}>
          {busy ? 'Reading it there…' : 'Move the run'}
        </button>
        <Quiet onClick={onClose}>Cancel</Quiet>
      </div>
      <Alert>{told}</Alert>
    </form>
  );
}
