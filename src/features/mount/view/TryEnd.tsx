import { useState } from 'react';
import { TRY_ENDS } from '#features/mount/model/attempt';
import { Quiet, TextBox, Tick } from '#ui/Form.tsx';
import type { MountDesk } from './useMount';

/** Says that this try did not work: what happened, and why; the next one begins with its first step. */
export function TryEnd({ desk, onEnd }: { desk: MountDesk; onEnd: () => void }) {
  const [open, setOpen] = useState(false);
  const [outcome, setOutcome] = useState('no_start');
  const [reason, setReason] = useState('');
  if (!open) {
    return (
      <Quiet className="mt-6 min-h-12 w-full" onClick={() => setOpen(true)}>
        It did not work …
      </Quiet>
    );
  }
  return (
    <form
      className="mt-6 flex flex-col gap-3 border-l-4 border-ember pl-4"
      onSubmit={async (e) => {
        e.preventDefault();
        if (!(await desk.end(outcome, reason))) return;
        setOpen(false);
        setReason('');
        onEnd();
      }}
    >
      <fieldset className="flex flex-col gap-1">
        <legend className="font-semibold">What happened</legend>
        {Object.entries(TRY_ENDS)
          .filter(([key]) => key !== 'ready')
          .map(([key, words]) => (
            <Tick key={key} hand words={words} name="outcome" checked={outcome === key} onChange={() => setOutcome(key)} />
          ))}
      </fieldset>
      <TextBox label="Why, as far as it is known" className="min-h-12" value={reason} maxLength={500} onChange={setReason} />
      <div className="flex gap-3">
        <button type="submit" className="act min-h-14 flex-1" disabled={desk.busy || reason.trim() === ''}>
          Keep this try, begin the next
        </button>
        <Quiet onClick={() => setOpen(false)}>Back</Quiet>
      </div>
    </form>
  );
}
