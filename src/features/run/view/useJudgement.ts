import { useState } from 'react';
import type { Span } from '#core/signal/trace/types';
import type { JudgementAction } from '#features/run/model/judgement';
import type { JudgementView } from '#features/run/server/judge';
import { send } from '#ui/send';
import { offerUndo } from '#ui/undo';
import { useSeen } from '#ui/useSeen';

const HEADERS = { 'content-type': 'application/json' };
const initials = () => localStorage.getItem('initials') ?? '';

export interface JudgementDesk {
  view: JudgementView;
  told: string | null;
  busy: boolean;
  /** false where it was refused */
  judge: (action: JudgementAction, more?: { reason?: string; window?: Span }) => Promise<boolean>;
  pin: (at_s: number, text: string) => Promise<boolean>;
  unpin: (note: number) => Promise<boolean>;
}

const DONE: Record<JudgementAction, string> = {
  accept: 'The run is accepted.',
  exclude: 'The run is excluded.',
  reopen: 'The run is open again.',
  window: 'The averaging window is set by hand.',
  automatic: 'The averaging window is automatic again.',
};

/** What takes a decision back: the state or the window that the run had before it. */
function inverse({ judged, reason, now }: JudgementView, action: JudgementAction): object {
  if (action === 'automatic') return { action: 'window', window: now.window };
  if (action === 'window') return { action: 'automatic' };
  if (judged === 'excluded') return { action: 'exclude', reason };
  return { action: judged === 'accepted' ? 'accept' : 'reopen' };
}

/** The newest entry of a run's journal that is shown; 0 for none. */
export const newestChange = ({ history }: JudgementView): number => history.at(-1)?.id ?? 0;

/** Decisions about a run, each stored at once. */
export function useJudgement(runId: number, initial: JudgementView): JudgementDesk {
  const [view, setView] = useState(initial);
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const { seen, refused } = useSeen(newestChange(view));
  const call = async (path: string, method: string, body?: object) => {
    setBusy(true);
    const answer = await send<JudgementView>(
      `/api/runs/${runId}/${path}`,
      { method, headers: HEADERS, body: body && JSON.stringify(body) },
      setTold,
      refused,
    );
    setBusy(false);
    if (answer) setView(answer);
    return answer;
  };
  return {
    ...{ view, told, busy },
    async judge(action, more = {}) {
      const back = inverse(view, action);
      const done = await call('judgement', 'POST', { action, who: initials(), seen: seen(), ...more });
      if (done)
        offerUndo({
          words: DONE[action],
          method: 'POST',
          url: `/api/runs/${runId}/judgement`,
          body: { ...back, who: initials(), seen: newestChange(done) },
        });
      // the figures, stages and findings around it are the server's
      if (done) globalThis.location.reload();
      return done !== null;
    },
    pin: async (at_s, text) => (await call('notes', 'POST', { at_s, text, who: initials() })) !== null,
    unpin: async (note) => (await call(`notes/${note}`, 'DELETE')) !== null,
  };
}
