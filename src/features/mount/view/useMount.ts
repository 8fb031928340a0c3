import { useCallback, useEffect, useRef, useState } from 'react';
import type { StepState } from '#features/mount/model/attempt';
import type { FaultCheck, FaultKind } from '#features/mount/model/fault';
import type { Found } from '#features/mount/model/opening';
import type { StepKey } from '#features/mount/model/stepTypes';
import type { WorkKind } from '#features/mount/model/work';
import type { MountSheetView } from '#features/mount/server/mountSheet';
import { sendJson } from '#ui/send';

const LOOK_EVERY_MS = 4000;
/** of whoever works on this device */
const initials = () => localStorage.getItem('initials') ?? '';

export interface MountDesk {
  view: MountSheetView;
  told: string | null;
  busy: boolean;
  /** writes a part of a step; false where it was refused */
  save: (step: StepKey, state: StepState) => Promise<boolean>;
  /** says what else is done to the machine in this try */
  setWork: (work: WorkKind[]) => Promise<boolean>;
  end: (outcome: string, reason: string) => Promise<boolean>;
  begin: () => Promise<boolean>;
  report: (kind: FaultKind, note: string) => Promise<boolean>;
  /** asks the server how the mount stands */
  refresh: () => Promise<void>;
  recordOpening: (found: Found[], note: string) => Promise<boolean>;
  removeOpening: (opening: number, removed: boolean) => Promise<boolean>;
  settle: (fault: number, check: FaultCheck, done: boolean) => Promise<boolean>;
}

/** A mount under way: each tap is stored at once, and what another device stores comes in. */
export function useMount(initial: MountSheetView): MountDesk {
  const [view, setView] = useState(initial);
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const working = useRef(0);
  // one after the other: a field that is left and the button that is pressed then are both stored
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const url = `/api/mounts/${initial.mount.id}`;

  const call = useCallback((path: string, method: 'POST' | 'PUT' | 'PATCH', body: object) => {
    working.current++;
    setBusy(true);
    const done = line.current.then(async () => {
      const answer = await sendJson<MountSheetView>(method, path, body, setTold);
      working.current--;
      setBusy(working.current > 0);
      if (answer) setView(answer);
      return answer !== null;
    });
    line.current = done;
    return done;
  }, []);

  const refresh = useCallback(async () => {
    const answer = await fetch(url).catch(() => null);
    if (answer?.ok && working.current === 0) setView((await answer.json()) as MountSheetView);
  }, [url]);

  useEffect(() => {
    const look = async () => {
      if (document.visibilityState === 'visible' && working.current === 0) await refresh();
    };
    const timer = setInterval(look, LOOK_EVERY_MS);
    return () => clearInterval(timer);
  }, [refresh]);

  return {
    ...{ view, told, busy, refresh },
    save: (step, state) => call(url, 'PATCH', { step, state }),
    setWork: (work) => call(url, 'PATCH', { work }),
    end: (outcome, reason) => call(`${url}/attempts`, 'PUT', { outcome, reason }),
    report: (kind, note) => call(`${url}/faults`, 'POST', { kind, note, who: initials() }),
    recordOpening: (found, note) => call(`${url}/openings`, 'POST', { found, note, who: initials() }),
    removeOpening: (opening, removed) => call(`${url}/openings`, 'PATCH', { opening, removed }),
    settle: (fault, check, done) => call(`${url}/faults`, 'PUT', { fault, check, done }),
    begin: () => call(`${url}/attempts`, 'POST', { who: initials() }),
  };
}
