import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Quiet } from './Form.tsx';
import { sendJson } from './send';
import { forgetUndo, UNDO_OFFERED, type UndoOffer, undoOffer } from './undo';

/** Says what the last change was, and takes it back. */
export function UndoBar() {
  const [offer, setOffer] = useState<UndoOffer | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    const look = () => setOffer(undoOffer());
    look();
    window.addEventListener(UNDO_OFFERED, look);
    return () => window.removeEventListener(UNDO_OFFERED, look);
  }, []);
  if (!offer) return null;
  const close = () => {
    forgetUndo();
    setOffer(null);
  };
  const undo = async () => {
    setBusy(true);
    const done = await sendJson(offer.method, offer.url, offer.body, setTold);
    setBusy(false);
    if (!done) return;
    close();
    if (offer.to) window.location.assign(offer.to);
    else window.location.reload();
  };
  return (
    <div
      role="status"
      className="pointer-events-none fixed bottom-4 left-4 z-40 flex max-w-[calc(100vw-2rem)] flex-wrap items-center gap-x-4 gap-y-2 border-2 border-ink bg-leaf px-4 py-2 print:hidden"
    >
      <span>{told ?? offer.words}</span>
      <Quiet className="pointer-events-auto" disabled={busy} onClick={() => void undo()}>
        Undo
      </Quiet>
      <button
        type="button"
        className="pointer-events-auto grid size-8 place-items-center hover:bg-band"
        aria-label="Close this message"
        onClick={close}
      >
        <X size={16} aria-hidden="true" />
      </button>
    </div>
  );
}
