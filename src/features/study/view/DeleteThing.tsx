import { useEffect, useState } from 'react';
import { BIN_DAYS, type BinKind } from '#features/study/model/binKinds';
import { Alert, Quiet, TextBox, TextButton } from '#ui/Form.tsx';
import { send, sendJson } from '#ui/send';
import { offerUndo } from '#ui/undo';

interface DeleteThingProps {
  kind: BinKind;
  id: number;
  /** what is pressed, such as "Delete this mount …" */
  words: string;
  /** reason that stands already, such as "begun by mistake" */
  reason?: string;
  /** page to go to afterwards; this one where it is missing */
  after?: string;
  className?: string;
  /** opens at once, where something else was pressed for it */
  isOpen?: boolean;
  onCancel?: () => void;
}

/** Deletes a thing into the bin: says what goes with it first, and offers to take it back afterwards. */
export function DeleteThing({ kind, id, words, reason: given = '', after, className = '', isOpen = false, onCancel }: DeleteThingProps) {
  const [what, setWhat] = useState<{ title: string; contents: string } | null>(null);
  const [reason, setReason] = useState(given);
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const ask = async () => setWhat(await send(`/api/bin?kind=${kind}&id=${id}`, {}, setTold));
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked once, when it opens
  useEffect(() => {
    if (isOpen) void ask();
  }, [isOpen]);
  const remove = async () => {
    setBusy(true);
    const who = localStorage.getItem('initials') ?? '';
    const gone = await sendJson<{ bin: number; title: string }>('POST', '/api/bin', { kind, id, reason, who }, setTold);
    setBusy(false);
    if (!gone) return;
    offerUndo({
      words: `${gone.title} is in the bin.`,
      ...{ method: 'POST', url: `/api/bin/${gone.bin}`, body: {}, to: window.location.pathname },
    });
    if (after) window.location.assign(after);
    else window.location.reload();
  };
  if (!what && isOpen) return <Alert>{told}</Alert>;
  if (!what)
    return (
      <>
        <TextButton className={`min-h-9 text-note ${className}`} onClick={() => void ask()}>
          {words}
        </TextButton>
        <Alert>{told}</Alert>
      </>
    );
  return (
    <form
      aria-label={`Delete ${what.title}`}
      className="my-2 max-w-2xl border-l-4 border-ember bg-leaf px-4 py-3 text-left"
      onSubmit={(e) => {
        e.preventDefault();
        void remove();
      }}
    >
      <p className="font-semibold">
        Delete {what.title}
        {what.contents && ` with ${what.contents}`}?
      </p>
      <p className="mb-2 text-soft">
        It lies in the <a href="/bin">bin</a> for {BIN_DAYS} days, from where it can be restored.
      </p>
      <TextBox label="Why" hint="optional; stays with it" maxLength={500} value={reason} onChange={setReason} />
      <div className="mt-3 flex gap-3">
        <button type="submit" className="act" disabled={busy}>
          {busy ? 'Deleting…' : `Delete ${kind === 'draft' ? 'the draft' : `the ${kind}`}`}
        </button>
        <Quiet
          onClick={() => {
            setWhat(null);
            onCancel?.();
          }}
        >
          Cancel
        </Quiet>
      </div>
      <Alert>{told}</Alert>
    </form>
  );
}
