import { useRef, useState } from 'react';
import { plural } from '#core/text/words';
import { Alert, Quiet } from '#ui/Form.tsx';
import { send } from '#ui/send';

/** Reads the logs of a study again, run by run, for parts that were named after they were stored. */
export function ReadAgain({ runs }: { runs: number[] }) {
  const [done, setDone] = useState<number | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const stopped = useRef(false);
  const read = async () => {
    stopped.current = false;
    for (const [i, id] of runs.entries()) {
      if (stopped.current) break;
      setDone(i);
      if (!(await send(`/api/runs/${id}/read-again`, { method: 'POST' }, setTold))) {
        setDone(null);
        return;
      }
    }
    window.location.reload();
  };
  return (
    <div className="mb-3">
      {done === null ? (
        <Quiet onClick={() => void read()}>Read the logs again for these parts ({plural(runs.length, 'run')})</Quiet>
      ) : (
        <p className="flex flex-wrap items-center gap-3">
          <progress className="h-2 w-60" max={runs.length} value={done} aria-label="Reading the logs again" />
          <span role="status">
            {done} of {runs.length}
          </span>
          <Quiet
            onClick={() => {
              stopped.current = true;
            }}
          >
            Stop after this one
          </Quiet>
        </p>
      )}
      <Alert>{told}</Alert>
    </div>
  );
}
