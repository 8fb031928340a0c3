import { useCallback, useEffect, useRef, useState } from 'react';
import type { StepState } from '#features/mount/model/attempt';
import { type FailureCause, failureNote } from '#features/mount/model/failure';
import type { FaultCheck, FaultKind } from '#features/mount/model/fault';
import type { Found } from '#features/mount/model/opening';
import type { StepKey } from '#features/mount/model/stepTypes';
import type { WorkKind } from '#features/mount/model/work';
import type { MountSheetView } from '#features/mount/server/mountSheet';
import { sendJson } from '#ui/send';
import { offerUndo } from '#ui/undo';

/** Why an application failed. */
export interface Failure {
  cause: FailureCause | null;
  reason: string;
}

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
  /** ends the try under way; after a failed one the next begins, on a new mount where this one ran */
  end: (outcome: string, failure?: Failure) => Promise<boolean>;
  /** begins a try; with a failure where the one before was ready and did not run */
  begin: (failed?: Failure & { outcome: string }) => Promise<boolean>;
  /** the cooler was lifted: opens the next mount, this one as failed where a failure is given */
  remount: (failed: Failure | null) => Promise<void>;
  /** leaves this mount out as failed, or takes it in again */
  judge: (failed: Failure | null) => Promise<boolean>;
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
      if (answer?.opened) window.location.assign(`/mounts/${answer.opened}`);
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
    end: (outcome, failure) => call(`${url}/attempts`, 'PUT', { outcome, ...failure }),
    remount: async (failed) => {
      const made = await sendJson<{ id: number }>('POST', `${url}/remount`, { who: initials(), failed }, setTold);
      if (made) window.location.assign(`/mounts/${made.id}`);
    },
    judge: async (failed) => {
      const { excluded_reason: reason, failed_cause: cause, specimen, number } = view.mount;
      const who = initials();
      const done = await sendJson('PUT', `${url}/excluded`, { who, reason: null, ...failed }, setTold);
      if (done)
        offerUndo({
          words: `${specimen}, mount ${number}, ${failed ? 'is marked as failed' : 'is included again'}.`,
          ...{ method: 'PUT', url: `${url}/excluded` },
          body: cause && reason ? { who, cause, reason: failureNote(cause, reason) } : { who, reason },
        });
      await refresh();
      return done !== null;
    },
    report: (kind, note) => call(`${url}/faults`, 'POST', { kind, note, who: initials() }),
    recordOpening: (found, note) => call(`${url}/openings`, 'POST', { found, note, who: initials() }),
    removeOpening: (opening, removed) => call(`${url}/openings`, 'PATCH', { opening, removed }),
    settle: (fault, check, done) => call(`${url}/faults`, 'PUT', { fault, check, done }),
    begin: (failed) => call(`${url}/attempts`, 'POST', { who: initials(), ...failed }),
  };
}
