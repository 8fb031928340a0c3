import { useEffect, useState } from 'react';
import type { NextMount } from '#features/mount/server/mountGrid';
import { KIND_NAMES, SPECIMEN_KINDS, type SpecimenKind } from '#features/shelf/model/materials';
import { Act, Alert, Field, Options, Quiet, TextBox } from '#ui/Form.tsx';
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
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  // initials are remembered on the device that stands beside the machine; what was typed meanwhile stays
  useEffect(() => setWho((typed) => typed || (localStorage.getItem('initials') ?? '')), []);
  const begin = async (mount: object) => {
    setBusy(true);
    localStorage.setItem('initials', who);
    const made = await sendJson<{ id: number }>('POST', `/api/studies/${studyId}/mounts`, { ...mount, who }, setTold);
    setBusy(false);
    if (made) window.location.assign(`/mounts/${made.id}`);
  };
  return (
    <div>
      <div className="flex flex-wrap items-end gap-4">
        {next && (
          <Act
            className="min-h-14 px-6 text-name"
            disabled={busy}
            onClick={() => void begin({ specimen_id: next.specimen_id, rig_id: next.rig_id })}
          >
            Begin {next.specimen} on {next.rig}
          </Act>
        )}
        {next && (
          <Quiet
            className="min-h-14"
            disabled={busy}
            onClick={() => void begin({ specimen_id: next.specimen_id, rig_id: next.rig_id, made: true })}
          >
            Already made
          </Quiet>
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
        <summary className="cursor-pointer py-1">{next ? 'A mount that is not in the plan' : 'A mount'}</summary>
        <OtherMount next={next} specimens={specimens} rigs={rigs} busy={busy} onBegin={begin} />
      </details>
      <Alert>{told}</Alert>
    </div>
  );
}

interface OtherMountProps extends Omit<BeginMountProps, 'studyId'> {
  busy: boolean;
  onBegin: (mount: object) => Promise<void>;
}

/** Which specimen is mounted on which rig, each from the list or new. */
function OtherMount({ next, specimens, rigs, busy, onBegin }: OtherMountProps) {
  const [specimen, setSpecimen] = useState(next?.specimen_id ?? specimens[0]?.id ?? 0);
  const [rig, setRig] = useState(next?.rig_id ?? rigs[0]?.id ?? 0);
  const [name, setName] = useState('');
  const [kind, setKind] = useState<SpecimenKind>('paste');
  const [rigName, setRigName] = useState('');
  const mount = {
    ...(specimen ? { specimen_id: specimen } : { specimen_name: name, specimen_kind: kind }),
    ...(rig ? { rig_id: rig } : { rig_name: rigName }),
  };
  return (
    <div className="flex flex-wrap items-end gap-3 pt-1">
      <Pick label="Specimen" value={specimen} none="a new specimen" choices={specimens} onChange={setSpecimen} />
      {specimen === 0 && (
        <>
          <TextBox label="Name of the specimen" maxLength={80} value={name} onChange={setName} />
          <Field label="Kind">
            {(p) => (
              <select {...p} className="field" value={kind} onChange={(e) => setKind(e.target.value as SpecimenKind)}>
                <Options choices={SPECIMEN_KINDS.map((k) => [k, KIND_NAMES[k]] as const)} />
              </select>
            )}
          </Field>
        </>
      )}
      <Pick label="Rig" value={rig} none="a new rig" choices={rigs} onChange={setRig} />
      {rig === 0 && <TextBox label="Name of the rig" maxLength={80} value={rigName} onChange={setRigName} />}
      <Quiet disabled={busy} onClick={() => void onBegin(mount)}>
        Begin this mount
      </Quiet>
      <Quiet disabled={busy} onClick={() => void onBegin({ ...mount, made: true })}>
        Already made
      </Quiet>
    </div>
  );
}

interface PickProps {
  label: string;
  /** 0 for a new one */
  value: number;
  none: string;
  choices: { id: number; name: string }[];
  onChange: (id: number) => void;
}

const Pick = ({ label, value, none, choices, onChange }: PickProps) => (
  <Field label={label}>
    {(p) => (
      <select {...p} className="field" value={value} onChange={(e) => onChange(Number(e.target.value))}>
        <Options choices={choices.map((c) => [c.id, c.name] as const)} />
        <option value={0}>{none}</option>
      </select>
    )}
  </Field>
);
