import { useState } from 'react';
import { Alert, Quiet } from '#ui/Form.tsx';
import { send } from '#ui/send';

/** Says that the samples of a run lie in its log alone, and reads them again where somebody wants to see each. */
export function OldSamples({ runId }: { runId: number }) {
  const [busy, setBusy] = useState(false);
  const [told, setTold] = useState<string | null>(null);
  const read = async () => {
    setBusy(true);
    if (await send(`/api/runs/${runId}/samples`, { method: 'POST' }, setTold)) window.location.reload();
    else setBusy(false);
  };
  return (
    <div className="mb-2 border-l-4 border-rule pl-4">
      <p>
        This run is old: its single samples lie in its log alone, as the settings of the lab say. The value stays; the drawing shows the
        lowest and the highest of every 64 samples.
      </p>
      <p className="mt-1 flex items-center gap-3">
        <Quiet disabled={busy} onClick={() => void read()}>
          Read the samples from the log
        </Quiet>
        <span role="status">{busy && 'Reading …'}</span>
      </p>
      <Alert>{told}</Alert>
    </div>
  );
}
