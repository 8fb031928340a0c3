import { useState } from 'react';
import { write } from '#core/text/words';
import type { LiveView } from '#features/live/server/liveView';
import { LIMIT_EVENTS } from '#features/mount/model/liveKinds';
import { Act, Quiet } from '#ui/Form.tsx';
import { Figure, Section } from '#ui/Words.tsx';

interface LiveSideProps {
  view: LiveView;
  onOrder: (order: Record<string, unknown>) => void;
}

/** Runs that closed, what a person can do now, what was seen, and how each source does. */
export function LiveSide({ view, onOrder }: LiveSideProps) {
  const { state, settings } = view;
  return (
    <div className="flex flex-col gap-6">
      {view.cycles.length > 0 && (
        <Section id="cycles" title={settings.kind === 'conditioning' ? 'Cycles so far' : 'Runs so far'}>
          <ul>
            {view.cycles.map((c) => (
              <li key={c.cycle} className="flex items-baseline justify-between border-b border-rule py-1.5">
                {c.run_id ? (
                  <a href={`/runs/${c.run_id}`} className="underline decoration-soft">
                    {settings.kind === 'conditioning' ? `Cycle ${c.cycle}` : `Run ${c.run_number ?? c.cycle}`}
                    {c.valid === false && ', not valid'}
                  </a>
                ) : (
                  <span>Cycle {c.cycle}</span>
                )}
                {c.rise_k !== null ? (
                  <Figure value={write(c.rise_k, 2)} unit="K" />
                ) : (
                  <span className="text-soft">{c.problem ?? (c.run_id === null ? 'being read' : 'no rise')}</span>
                )}
              </li>
            ))}
          </ul>
        </Section>
      )}
      {!view.over && state.stage !== 'preflight' && <Orders view={view} onOrder={onOrder} />}
      {view.over && (
        <p>
          <a href={`/mounts/${view.mount_id}`} className="act inline-block px-5 py-2 no-underline">
            To the mount
          </a>
        </p>
      )}
      <Section id="sources" title="Sources">
        <ul>
          {view.sources.map((s) => {
            const h = view.health[s.name];
            return (
              <li key={s.name} className="border-b border-rule py-1.5">
                <span className="flex justify-between gap-3">
                  <span>{s.name}</span>
                  <span className={h?.connected || view.over ? 'text-soft' : 'font-semibold text-ember'}>
                    {view.over ? 'disconnected' : h?.connected ? 'answers' : 'not connected'}
                  </span>
                </span>
                <span className="figure block text-note text-soft">{s.address}</span>
                {h?.problem && !view.over && <span className="block text-note text-ember">{h.problem}</span>}
              </li>
            );
          })}
        </ul>
      </Section>
      {view.refusals.length > 0 && (
        <Section id="refusals" title="Rejected readings">
          <ul>
            {view.refusals.map((r) => (
              <li key={`${r.source} ${r.code}`} className="border-b border-rule py-1.5">
                <span className="flex justify-between gap-3">
                  <span>{r.source}</span>
                  <span className="figure text-note">{r.count} ×</span>
                </span>
                <span className="block text-note text-soft">{r.message}</span>
              </li>
            ))}
          </ul>
        </Section>
      )}
    </div>
  );
}

/** What a person can tell the run. */
function Orders({ view, onOrder }: LiveSideProps) {
  const { state, settings } = view;
  const [stopping, setStopping] = useState(false);
  const [reason, setReason] = useState('');
  const [event, setEvent] = useState('');
  const under = state.load_from_s !== null && state.load_to_s === null;
  const expected = LIMIT_EVENTS.filter((e) => !state.marks.some((m) => m.event === e));
  return (
    <Section id="orders" title="At the bench">
      {state.stage === 'idle' && settings.switched && state.asked_s !== null && (
        <Quiet className="mt-2" onClick={() => onOrder({ kind: 'start_load' })}>
          Switch the load on again
        </Quiet>
      )}
      {/* what is expected next stands first; a part may shut off without a warning, so all can be marked from the first second */}
      {under &&
        settings.kind === 'limit_test' &&
        expected.map((event, i) =>
          i === 0 ? (
            <Act key={event} className="mt-2 min-h-14 w-full text-name" onClick={() => onOrder({ kind: 'mark', event })}>
              Mark: {event}
            </Act>
          ) : (
            <Quiet key={event} className="mt-2 min-h-14 w-full text-name" onClick={() => onOrder({ kind: 'mark', event })}>
              Mark: {event}
            </Quiet>
          ),
        )}
      {under && (
        <form
          className="mt-2 flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (event.trim()) onOrder({ kind: 'mark', event });
            setEvent('');
          }}
        >
          <label className="grow">
            <span className="sr-only">Event to mark</span>
            <input
              className="field w-full"
              placeholder="What was seen"
              value={event}
              maxLength={60}
              onChange={(e) => setEvent(e.target.value)}
            />
          </label>
          <button type="submit" className="quiet">
            Mark
          </button>
        </form>
      )}
      {state.marks.length > 0 && (
        <ul className="mt-2">
          {state.marks.map((m) => (
            <li key={`${m.event} ${m.at_s}`} className="flex justify-between border-b border-rule py-1">
              <span>{m.event}</span>
              <span className="figure text-note">
                {write(m.at_s - (state.load_from_s ?? state.cycle_from_s), 0)} s under load
                {m.load_w !== null && `, ${write(m.load_w, 0)} W`}
              </span>
            </li>
          ))}
        </ul>
      )}
      {stopping ? (
        <form
          className="mt-3"
          onSubmit={(e) => {
            e.preventDefault();
            onOrder({ kind: 'stop', reason });
            setStopping(false);
          }}
        >
          <label>
            <span className="block text-note text-soft">Reason for stopping; what was read is kept</span>
            <input className="field w-full" value={reason} maxLength={500} required onChange={(e) => setReason(e.target.value)} />
          </label>
          <p className="mt-2 flex gap-2">
            <button type="submit" className="act px-4">
              Stop the run
            </button>
            <Quiet onClick={() => setStopping(false)}>Keep it running</Quiet>
          </p>
        </form>
      ) : (
        <Quiet className="mt-3" onClick={() => setStopping(true)}>
          Stop…
        </Quiet>
      )}
    </Section>
  );
}
