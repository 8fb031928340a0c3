import { useState } from 'react';
import { type AttemptOutcome, TRY_ENDS } from '#features/mount/model/attempt';
import { causesFor, FAILURE_CAUSES, type FailureCause } from '#features/mount/model/failure';
import { Quiet, TextBox, Tick } from '#ui/Form.tsx';
import type { Failure } from './useMount';

interface TryEndProps {
  /** words of the button that opens the form */
  words?: string;
  /** asks how it ended; else it was too hot */
  outcome?: boolean;
  submit: string;
  onEnd: (failure: Failure & { outcome: AttemptOutcome }) => Promise<void>;
  /** a second way to go on, beside the first */
  also?: { words: string; onEnd: (failure: Failure) => Promise<void> };
}

/** Says that an application failed: what happened, its cause from the list with what to do next, and what else is known. */
export function TryEnd({ words = 'Mark as failed …', outcome: asks = false, submit, onEnd, also }: TryEndProps) {
  const [open, setOpen] = useState(false);
  const [outcome, setOutcome] = useState<AttemptOutcome>(asks ? 'no_start' : 'too_hot');
  const [cause, setCause] = useState<FailureCause | null>(null);
  const [reason, setReason] = useState('');
  if (!open) {
    return (
      <Quiet className="mt-6 min-h-12 w-full" onClick={() => setOpen(true)}>
        {words}
      </Quiet>
    );
  }
  const isTold = cause !== null || reason.trim() !== '';
  const failure = { outcome, cause, reason: reason.trim() };
  const close = () => {
    setOpen(false);
    setCause(null);
    setReason('');
  };
  return (
    <form
      className="mt-6 flex flex-col gap-3 border-l-4 border-ember pl-4"
      onSubmit={async (e) => {
        e.preventDefault();
        await onEnd(failure);
        close();
      }}
    >
      {asks && (
        <fieldset className="grid gap-x-6 sm:grid-cols-2">
          <legend className="font-semibold">What happened</legend>
          {(Object.keys(TRY_ENDS) as AttemptOutcome[])
            .filter((key) => key !== 'ready')
            .map((key) => (
              <Tick key={key} hand words={TRY_ENDS[key]} name="outcome" checked={outcome === key} onChange={() => setOutcome(key)} />
            ))}
        </fieldset>
      )}
      <fieldset className="grid gap-x-6 sm:grid-cols-2">
        <legend className="font-semibold">Cause, the usual ones first</legend>
        {causesFor(outcome).map((key) => (
          <Tick key={key} hand words={FAILURE_CAUSES[key].name} name="cause" checked={cause === key} onChange={() => setCause(key)} />
        ))}
      </fieldset>
      {cause && (
        <p role="status">
          {FAILURE_CAUSES[cause].seen} <span className="font-semibold">{FAILURE_CAUSES[cause].next}</span>
        </p>
      )}
      <TextBox
        label={cause ? 'Note, if there is more' : 'Or what is known about it'}
        className="min-h-12"
        value={reason}
        maxLength={450}
        onChange={setReason}
      />
      <div className="flex flex-wrap gap-3">
        <button type="submit" className="act min-h-14 flex-1" disabled={!isTold}>
          {submit}
        </button>
        {also && (
          <Quiet
            disabled={!isTold}
            onClick={async () => {
              await also.onEnd(failure);
              close();
            }}
          >
            {also.words}
          </Quiet>
        )}
        <Quiet onClick={close}>Cancel</Quiet>
      </div>
    </form>
  );
}
