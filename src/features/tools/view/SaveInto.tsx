import { useState } from 'react';
import type { RecordKey, StepKey } from '#features/mount/model/stepTypes';
import type { ToolSetting } from '#features/tools/server/toolSetting';
import { Act } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';

interface SaveIntoProps {
  mount: NonNullable<ToolSetting['mount']>;
  step: StepKey;
  /** what is written down there, as it stands now */
  records: Partial<Record<RecordKey, string | number | null>>;
  /** why it cannot be written down yet; null where it can */
  missing?: string | null;
}

/** Writes what a tool found into the mount it was opened from, and leads back there. */
export function SaveInto({ mount, step, records, missing = null }: SaveIntoProps) {
  const [told, setTold] = useState<string | null>(null);
  const [stored, setStored] = useState('');
  const now = JSON.stringify(records);
  const save = async () => {
    const done = await sendJson('PATCH', `/api/mounts/${mount.id}`, { step, state: { records } }, setTold);
    setStored(done === null ? '' : now);
  };
  return (
    <p className="mt-4 flex flex-wrap items-center gap-3">
      <Act className="min-h-12" disabled={missing !== null} onClick={() => void save()}>
        Write it into {mount.name}
      </Act>
      <a href={`/mounts/${mount.id}`} className="underline">
        Back to the mount
      </a>
      <span role="status">{told ?? missing ?? (stored === now ? 'Written down.' : '')}</span>
    </p>
  );
}
