import { useState } from 'react';
import { FAULT_CHECKS, FAULTS, type FaultCheck, type FaultKind } from '#features/mount/model/fault';
import { Field, Options, TextBox, Tick } from '#ui/Form.tsx';
import { Section } from '#ui/Words.tsx';
import { RecordForm } from './RecordForm.tsx';
import type { MountDesk } from './useMount';

/** Faults that showed after the mount was made: reported at any time, inspected, and tested after repair. */
export function Faults({ desk }: { desk: MountDesk }) {
  const { faults } = desk.view;
  const [kind, setKind] = useState<FaultKind>('part_vanished');
  const [note, setNote] = useState('');
  return (
    <Section id="faults" title="Faults seen later" className="mt-8">
      {faults.length === 0 && (
        <p className="text-soft">
          None. Record here what fails later, such as a part that is no longer detected or a crash, even weeks after the mount.
        </p>
      )}
      <ul>
        {faults.map((f) => (
          <li key={f.id} className="border-b border-rule py-2">
            <span className={`font-semibold ${f.inspected_at && f.moved_at ? '' : 'text-ember'}`}>{FAULTS[f.kind]}</span>
            {f.who && <span className="text-soft"> · {f.who}</span>}
            <div>{f.note}</div>
            {(Object.keys(FAULT_CHECKS) as FaultCheck[]).map((check) => (
              <Tick
                key={check}
                hand
                words={FAULT_CHECKS[check]}
                checked={f[check] !== null}
                onChange={(on) => void desk.settle(f.id, check, on)}
              />
            ))}
          </li>
        ))}
      </ul>
      <RecordForm
        ask="Report a fault …"
        keep="Report the fault"
        ready={note.trim() !== ''}
        onKeep={async () => {
          if (!(await desk.report(kind, note))) return false;
          setNote('');
          return true;
        }}
      >
        <Field label="What kind">
          {(p) => (
            <select {...p} className="field min-h-12 w-full" value={kind} onChange={(e) => setKind(e.target.value as FaultKind)}>
              <Options choices={Object.entries(FAULTS)} />
            </select>
          )}
        </Field>
        <TextBox
          label="What happened, and when"
          hint="its earlier runs are flagged with this"
          className="min-h-12"
          value={note}
          maxLength={500}
          onChange={setNote}
        />
      </RecordForm>
    </Section>
  );
}
