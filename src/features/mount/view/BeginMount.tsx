import { useEffect, useState } from 'react';
import type { NextMount } from '#features/mount/server/mountGrid';
import { Act, Alert, Field, Options, Quiet } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';

interface BeginMountProps {
  studyId: number;
  next: NextMount | null;
  specimens: { id: number; name: string }[];
  rigs: { id: number; name: string }[];
}

/** Begins the next mount by plan, or another one beside it. */
export function BeginMount({ studyId, next, specimens, rigs }: BeginMountProps) {
  const [who, setWho] = useState('');
  const [specimen, setSpecimen] = useState(next?.specimen_id ?? specimens[0]?.id ?? 0);
  const [rig, setRig] = useState(next?.rig_id ?? rigs[0]?.id ?? 0);
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  // initials are remembered on the device that stands beside the machine
  useEffect(() => setWho(localStorage.getItem('initials') ?? ''), []);
  const begin = async (specimenId: number, rigId: number) => {
    setBusy(true);
    localStorage.setItem('initials', who);
    const made = await sendJson<{ id: number }>(
      'POST',
      `/api/studies/${studyId}/mounts`,
      { specimen_id: specimenId, rig_id: rigId, who },
      setTold,
    );
    setBusy(false);
    if (made) window.location.assign(`/mounts/${made.id}`);
  };
  if (specimens.length === 0 || rigs.length === 0) {
    return (
      <p className="text-soft">
        A mount needs a specimen and a rig: choose them in the <a href={`/studies/${studyId}/plan`}>plan</a>.
      </p>
    );
  }
  return (
    <div>
      <div className="flex flex-wrap items-end gap-4">
        {next && (
          <Act className="min-h-14 px-6 text-name" disabled={busy} onClick={() => void begin(next.specimen_id, next.rig_id)}>
            Begin {next.specimen} on {next.rig}
          </Act>
        )}
        <Field label="Your initials">
          {(p) => (
            <input
              {...p}
              className="field w-24 text-name"
              value={who}
              maxLength={20}
              autoComplete="off"
              onChange={(e) => setWho(e.target.value)}
            />
          )}
        </Field>
      </div>
      <details className="mt-3" open={!next}>
        <summary className="cursor-pointer py-1">Another mount{next ? ' than the plan’s' : ''}</summary>
        <div className="flex flex-wrap items-end gap-3 pt-1">
          <Field label="Specimen">
            {(p) => (
              <select {...p} className="field" value={specimen} onChange={(e) => setSpecimen(Number(e.target.value))}>
                <Options choices={specimens.map((s) => [s.id, s.name] as const)} />
              </select>
            )}
          </Field>
          <Field label="Rig">
            {(p) => (
              <select {...p} className="field" value={rig} onChange={(e) => setRig(Number(e.target.value))}>
                <Options choices={rigs.map((r) => [r.id, r.name] as const)} />
              </select>
            )}
          </Field>
          <Quiet disabled={busy} onClick={() => void begin(specimen, rig)}>
            Begin this mount
          </Quiet>
        </div>
      </details>
      <Alert>{told}</Alert>
    </div>
  );
}
