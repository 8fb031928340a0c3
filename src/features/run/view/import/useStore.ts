import { useRef, useState } from 'react';
import { send, sendJson } from '#ui/send';
import { uploading } from '#ui/uploading';

/** A run that was stored, and where. */
export interface StoredRun {
  run_id: number;
  study_id: number;
  specimen_id: number;
  mount_id: number;
  rig_id: number;
}

export interface Store {
  /** what is being done, and how far; null while nothing is */
  progress: { what: string; share: number | null } | null;
  told: string | null;
  tell: (sentence: string | null) => void;
  cancel: () => void;
  /** @param tell where a refusal is told, when not in `told` */
  send: (plan: object, logs: File[], results?: File[], tell?: (sentence: string | null) => void) => Promise<StoredRun | null>;
  /** false where it was refused */
  remember: (layout: object) => Promise<boolean>;
}

/** Sends runs to the store; a cancelled one leaves nothing there. */
export function useStore(): Store {
  const [progress, setProgress] = useState<Store['progress']>(null);
  const [told, setTold] = useState<string | null>(null);
  const control = useRef<AbortController | null>(null);
  return {
    ...{ progress, told, tell: setTold },
    cancel: () => control.current?.abort(),
    async send(plan, logs, results = [], tell = setTold) {
      const body = new FormData();
      // the plan comes first, so that the files are read while they arrive
      body.set('plan', JSON.stringify(plan));
      for (const f of logs) body.append('files', f);
      for (const f of results) body.append('results', f);
      control.current = new AbortController();
      setProgress({ what: 'Sending', share: 0 });
      const by = uploading((share) =>
        setProgress(share < 1 ? { what: 'Sending and reading', share } : { what: 'Reducing and storing', share: null }),
      );
      const stored = await send<StoredRun>('/api/imports', { method: 'POST', body, signal: control.current.signal }, tell, undefined, by);
      if (control.current.signal.aborted) tell('Cancelled. Nothing was stored.');
      setProgress(null);
      return stored;
    },
    remember: async (layout) => (await sendJson('POST', '/api/layouts', layout, setTold)) !== null,
  };
}
