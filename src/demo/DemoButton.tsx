import { useEffect, useState } from 'react';
import { Alert, Quiet } from '#ui/Form.tsx';
import { send } from '#ui/send';
import type { DemoProgress } from './demoJob';

/** Loads the demo from the empty bench, with its progress and a way to stop; one that is being loaded already is shown. */
export function DemoButton({ initial = null }: { initial?: DemoProgress | null }) {
  const [progress, setProgress] = useState(initial);
  const [told, setTold] = useState<string | null>(null);
  const running = progress?.state === 'loading' || progress?.state === 'cancelling';
  const begin = async () => setProgress(await send<DemoProgress>('/api/demo', { method: 'POST' }, setTold));
  const stop = async () => setProgress(await send<DemoProgress>('/api/demo', { method: 'DELETE' }, setTold));
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(async () => {
      const next = await send<DemoProgress>('/api/demo', {}, setTold);
      if (!next) return;
      setProgress(next);
      if (next.state === 'idle') window.location.reload();
      if (next.state === 'failed') setTold('The demo could not be loaded; the log of the server says why.');
    }, 400);
    return () => clearInterval(timer);
  }, [running]);
  return (
    <div aria-live="polite">
      {running ? (
        <div className="flex items-center gap-3">
          <progress value={progress.done} max={Math.max(1, progress.total)} className="h-3 w-40" aria-label="Loading the demo" />
          <span>
            {progress.state === 'cancelling'
              ? 'taking it away again'
              : progress.total === 0
                ? 'making it ready'
                : `${progress.done} of ${progress.total} runs`}
          </span>
          <Quiet onClick={stop}>Stop</Quiet>
        </div>
      ) : (
        <Quiet onClick={begin}>Load the demo</Quiet>
      )}
      <Alert>{told}</Alert>
    </div>
  );
}
