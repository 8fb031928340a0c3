import { useState } from 'react';
import { Alert, Quiet } from '#ui/Form.tsx';
import { send } from '#ui/send';

/** Says that the samples of a run lie in its log alone, and keeps them in the store again where somebody works with it. */
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
        This run is old: its samples are read from its log each time it is drawn closely, as the settings of the lab say. Nothing is lost.
      </p>
      <p className="mt-1 flex items-center gap-3">
        <Quiet disabled={busy} onClick={() => void read()}>
          Keep the samples at hand again
        </Quiet>
        <span role="status">{busy && 'Reading the log …'}</span>
      </p>
      <Alert>{told}</Alert>
    </div>
  );
}
