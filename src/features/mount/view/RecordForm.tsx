import { type ReactNode, useState } from 'react';
import { Quiet } from '#ui/Form.tsx';

interface RecordFormProps {
  /** button that opens it */
  ask: string;
  /** button that keeps what was entered */
  keep: string;
  ready: boolean;
  /** false where it was refused: what was entered stays */
  onKeep: () => Promise<boolean>;
  children: ReactNode;
}

/** A form that is opened where something is to be written into a mount's record, and closes when it is kept. */
export function RecordForm({ ask, keep, ready, onKeep, children }: RecordFormProps) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <Quiet className="mt-3 min-h-12" onClick={() => setOpen(true)}>
        {ask}
      </Quiet>
    );
  return (
    <form
      className="mt-3 flex flex-col gap-3"
      onSubmit={async (e) => {
        e.preventDefault();
        if (await onKeep()) setOpen(false);
      }}
    >
      {children}
      <div className="flex gap-3">
        <button type="submit" className="act min-h-12" disabled={!ready}>
          {keep}
        </button>
        <Quiet onClick={() => setOpen(false)}>Back</Quiet>
      </div>
    </form>
  );
}
