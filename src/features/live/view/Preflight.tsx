import { Check, CircleHelp, X } from 'lucide-react';
import { useState } from 'react';
import type { Check as FlightCheck } from '#core/live/preflight';
import type { LiveView } from '#features/live/server/liveView';
import { Act, Tick } from '#ui/Form.tsx';

const MARKS = { right: Check, wrong: X, unknown: CircleHelp } as const;
const SAID = { right: 'right', wrong: 'not right', unknown: 'not known' } as const;

/** What has to be right before a run begins, each as it is seen now. */
export function Preflight({ view, onBegin }: { view: LiveView; onBegin: (reason: string) => void }) {
  const [reason, setReason] = useState('');
  const wrong = view.checks.filter((c) => c.state === 'wrong');
  const attended = view.settings.kind === 'limit_test';
  const [here, setHere] = useState(false);
  const may = view.checks.length > 0 && (wrong.length === 0 || reason.trim() !== '') && (!attended || here);
  return (
    <section className="section-rule mt-4" aria-labelledby="preflight">
      <div className="flex flex-wrap items-center justify-between gap-x-8 gap-y-2">
        <h2 id="preflight" className="text-title font-semibold">
          {view.checks.length === 0
            ? 'Looking at the bench…'
            : wrong.length === 0
              ? 'Everything is ready: the run can begin'
              : `${wrong.length} of ${view.checks.length} not as it should be`}
        </h2>
        {/* above the list, so that it stays where it is while the checks come in */}
        <Act className="min-h-11 px-6 text-name" disabled={!may} onClick={() => onBegin(reason)}>
          {wrong.length > 0 ? 'Begin anyway' : 'Begin the run'}
        </Act>
      </div>
      {wrong.length > 0 && (
        <label className="mt-2 block">
          <span className="block text-note text-soft">Reason to begin anyway</span>
          <input className="field w-full" value={reason} maxLength={500} onChange={(e) => setReason(e.target.value)} />
        </label>
      )}
      {attended && (
        <div className="mt-4 border-4 border-ember px-5 py-3">
          <p className="text-name font-semibold">This test heats the part until it warns. Stay beside it, with the switch in reach.</p>
          <p className="mt-1">
            The load is cut off at {view.settings.stop_c} °C where it can be switched; follow the part's data sheet and the house's rules
            for unattended heat, and leave wiring to licensed trades.
          </p>
          <Tick words="I stay beside it until it is cold" className="mt-2" checked={here} onChange={setHere} />
        </div>
      )}
      <ul className="mt-2 grid gap-x-10 md:grid-cols-2">
        {[...wrong, ...view.checks.filter((c) => c.state !== 'wrong')].map((c) => (
          <CheckRow key={c.key} check={c} />
        ))}
      </ul>
    </section>
  );
}

function CheckRow({ check }: { check: FlightCheck }) {
  const Mark = MARKS[check.state];
  return (
    <li className="flex items-start gap-3 border-b border-rule py-2">
      <Mark
        size={20}
        className={`mt-0.5 shrink-0 ${check.state === 'wrong' ? 'text-ember' : 'text-soft'}`}
        aria-label={SAID[check.state]}
      />
      <span>
        <span className="font-semibold">{check.label}</span>
        <span className={`block ${check.state === 'wrong' ? 'font-semibold text-ember' : 'text-soft'}`}>{check.message}</span>
      </span>
    </li>
  );
}
