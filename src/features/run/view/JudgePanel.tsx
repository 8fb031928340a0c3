import { useState } from 'react';
import type { Span } from '#core/signal/trace/types';
import { plural, write } from '#core/text/words';
import { judgementWords } from '#features/run/model/judgement';
import type { JudgementView, ReadingFigures } from '#features/run/server/judge';
import { Act, Alert, Quiet, TextBox, TextButton } from '#ui/Form.tsx';
import { Moment } from '#ui/Moment.tsx';
import type { JudgementDesk } from './useJudgement';

interface JudgePanelProps {
  desk: JudgementDesk;
  /** a window that was dragged and is not kept yet */
  hand: Span | null;
  onHand: (window: Span | null) => void;
  /** 0 where there is no trace to pin notes to */
  duration_s: number;
}

const STATES = { open: 'Not judged yet', accepted: 'Accepted', excluded: 'Excluded' };

/** What is decided about a run, with its history; and notes pinned to its times. */
export function JudgePanel({ desk, hand, onHand, duration_s }: JudgePanelProps) {
  const { judged, reason, automatic, history } = desk.view;
  const [why, setWhy] = useState('');
  const [excluding, setExcluding] = useState(false);
  return (
    <div className="mt-3">
      <div className="flex flex-wrap items-center gap-3">
        {hand ? (
          <>
            <Act disabled={desk.busy} onClick={() => void desk.judge('window', { window: hand })}>
              {desk.busy ? 'Reading it again …' : 'Keep this window'}
            </Act>
            <Quiet onClick={() => onHand(null)}>Discard change</Quiet>
          </>
        ) : (
          <>
            <span className={`text-name font-semibold ${judged === 'excluded' ? 'text-ember' : ''}`}>{STATES[judged]}</span>
            {judged === 'open' && (
              <Act disabled={desk.busy} onClick={() => void desk.judge('accept')}>
                Accept the run
              </Act>
            )}
            {judged !== 'excluded' && !excluding && <Quiet onClick={() => setExcluding(true)}>Exclude …</Quiet>}
            {judged !== 'open' && (
              <Quiet disabled={desk.busy} onClick={() => void desk.judge('reopen')}>
                Reopen
              </Quiet>
            )}
            {automatic && (
              <Quiet disabled={desk.busy} onClick={() => void desk.judge('automatic')}>
                Back to the automatic window
              </Quiet>
            )}
          </>
        )}
      </div>
      {reason && <p className="mt-1">{reason}</p>}
      {automatic && (
        <p className="mt-1 text-soft">
          By itself: {figureWords(automatic)}; by hand: {figureWords(desk.view.now)}.
        </p>
      )}
      {excluding && (
        <form
          className="mt-3 flex max-w-2xl flex-wrap items-end gap-3 border-l-4 border-ember pl-4"
          onSubmit={async (e) => {
            e.preventDefault();
            if (await desk.judge('exclude', { reason: why })) setExcluding(false);
          }}
        >
          <div className="min-w-60 flex-1">
            <TextBox
              label="Reason for excluding it"
              hint="Results are also shown with it; the reason is printed."
              value={why}
              maxLength={500}
              onChange={setWhy}
            />
          </div>
          <button type="submit" className="act" disabled={desk.busy || why.trim() === ''}>
            Exclude the run
          </button>
          <Quiet onClick={() => setExcluding(false)}>Back</Quiet>
        </form>
      )}
      <Alert>{desk.told}</Alert>
      {duration_s > 0 && <Notes desk={desk} at={hand?.start_s ?? desk.view.now.window?.start_s ?? 0} duration_s={duration_s} />}
      {history.length > 0 && <History history={history} />}
    </div>
  );
}

function figureWords({ window, rise_k, se_k }: ReadingFigures): string {
  const span = window ? ` over ${write(window.start_s, 0)} to ${write(window.end_s, 0)} s` : '';
  return `${rise_k === null ? 'no rise' : `${write(rise_k, 2)} K`}${se_k === null ? '' : ` ± ${write(se_k, 2)}`}${span}`;
}

function Notes({ desk, at, duration_s }: { desk: JudgementDesk; at: number; duration_s: number }) {
  const [text, setText] = useState('');
  const [minute, setMinute] = useState('');
  const [open, setOpen] = useState(false);
  const typed = minute.trim() === '' ? at / 60 : Number(minute.replace(',', '.'));
  const wrong = !(typed >= 0 && typed * 60 <= duration_s);
  return (
    <div className="mt-3">
      <ul>
        {desk.view.notes.map((n) => (
          <li key={n.id} className="flex flex-wrap items-baseline gap-x-3 py-0.5">
            <span className="figure">{write(n.at_s / 60, 1)} min</span>
            <span>{n.text}</span>
            {n.who && <span className="text-soft">{n.who}</span>}
            <TextButton className="text-note" onClick={() => void desk.unpin(n.id)}>
              Delete the note
            </TextButton>
          </li>
        ))}
      </ul>
      {open ? (
        <form
          className="mt-1 flex flex-wrap items-end gap-3"
          onSubmit={async (e) => {
            e.preventDefault();
            if (!(await desk.pin(60 * typed, text))) return;
            setText('');
            setMinute('');
            setOpen(false);
          }}
        >
          <div className="w-28">
            <TextBox
              label="At / min"
              error={wrong ? `A number from 0 to ${write(duration_s / 60, 1)}.` : undefined}
              className="figure"
              inputMode="decimal"
              placeholder={write(at / 60, 1)}
              value={minute}
              onChange={setMinute}
            />
          </div>
          <div className="min-w-60 flex-1">
            <TextBox label="Note" value={text} maxLength={500} onChange={setText} />
          </div>
          <button type="submit" className="act" disabled={desk.busy || wrong || text.trim() === ''}>
            Pin it
          </button>
          <Quiet onClick={() => setOpen(false)}>Back</Quiet>
        </form>
      ) : (
        <TextButton onClick={() => setOpen(true)}>Add a note at a time</TextButton>
      )}
    </div>
  );
}

/** What was decided about the run before. */
const History = ({ history }: Pick<JudgementView, 'history'>) => (
  <details className="mt-3">
    <summary className="cursor-pointer py-1 font-semibold">{plural(history.length, 'change')} so far</summary>
    <ol>
      {history.map((h) => (
        <li key={h.id} className="border-b border-rule py-1.5">
          {judgementWords(h.action)}
          {h.who && `, ${h.who}`}
          <span className="text-soft">
            {' '}
            · <Moment at={h.at} />
          </span>
          {h.reason && <span> · {h.reason}</span>}
          {['window', 'automatic', 'decide', 'correct', 'reread', 'move'].includes(h.action) && (
            <span className="block text-note text-soft">
              {figureWords(h.before)} → {figureWords(h.after)}
            </span>
          )}
        </li>
      ))}
    </ol>
  </details>
);
