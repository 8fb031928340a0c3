import { proxy } from 'comlink';
import { lazy, Suspense, useMemo, useState } from 'react';
import type { Rehearsal } from '#core/design/rehearse';
import { rehearsalOf } from '#features/study/model/resolve';
import { Quiet } from '#ui/Form.tsx';
import { useWorker } from '#ui/useWorker';
import { CheckedLink } from '#ui/Words.tsx';
import { PlanField } from './PlanField.tsx';
import type { RehearsalApi } from './rehearsal.worker';
import type { PlanDesk } from './usePlan';

const COUNT = 2000;

/** Drawn once there is something to draw. */
const RehearsalShares = lazy(() => import('./RehearsalShares.tsx').then((m) => ({ default: m.RehearsalShares })));

/** Simulates the plan through the same comparison as its results, and says where it is weak. */
export function RehearsalPanel({ desk }: { desk: PlanDesk }) {
  const plan = useMemo(() => rehearsalOf(desk.resolved), [desk.resolved]);
  const key = JSON.stringify(plan);
  const { ask } = useWorker<RehearsalApi>('rehearsal');
  const [done, setDone] = useState<number | null>(null);
  const [result, setResult] = useState<{ rehearsal: Rehearsal; key: string } | null>(null);
  const [told, setTold] = useState('');

  const start = async () => {
    if (!plan) return;
    setDone(0);
    setTold('');
    // reports of progress come on a line of their own, and may arrive after the end
    let running = true;
    const progress = (n: number) => {
      if (running) setDone(n);
    };
    const asked = ask().rehearse(plan, COUNT, desk.resolved.said.seed, proxy(progress));
    const rehearsal = await asked.catch((error: Error) => {
      setTold(`The rehearsal stopped with an error: ${error.message}`);
      return null;
    });
    running = false;
    setDone(null);
    if (rehearsal) setResult({ rehearsal, key });
    else setTold((t) => t || 'Cancelled.');
  };

  const supposed = desk.resolved.specimens.filter((s) => s.plan.rise_k != null).length;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-4 lg:grid-cols-[300px_minmax(0,1fr)]">
      <div className="flex flex-col gap-3">
        <p>
          {supposed === 0
            ? 'No ΔT is expected of any of them yet, so the rehearsal counts false calls where nothing differs. Enter expected ΔT in the section above to see what the plan finds.'
            : supposed === desk.resolved.specimens.length
              ? 'The expected ΔT are taken as the truth.'
              : `The expected ΔT of ${supposed} of ${desk.resolved.specimens.length} are taken as the truth; the others equal the reference.`}
        </p>
        <div className="grid grid-cols-2 gap-3">
          <PlanField desk={desk} field="day_sd" hint={null} />
          <PlanField desk={desk} field="failure_pct" />
        </div>
        <div className="flex flex-wrap items-center gap-3">
          <button type="button" className={result ? 'quiet' : 'act'} disabled={!plan || done !== null} onClick={() => void start()}>
            Rehearse {COUNT.toLocaleString('en')} times
          </button>
          {done !== null && <Quiet onClick={() => void ask().cancel()}>Cancel</Quiet>}
        </div>
        {done !== null && (
          <label className="text-note text-soft">
            {done.toLocaleString('en')} of {COUNT.toLocaleString('en')} studies simulated and compared
            <progress className="block w-full" max={COUNT} value={done} />
          </label>
        )}
        {!plan && (
          <p className="text-soft">
            {desk.resolved.comparison.unit === undefined
              ? 'It needs two things to compare and a reference.'
              : 'A rehearsal simulates ΔT over ambient; this study compares another outcome.'}
          </p>
        )}
        <p aria-live="polite" className="text-soft">
          {told || (result && result.key !== key ? 'The plan changed since this rehearsal; run it again.' : '')}
        </p>
        {result && <CheckedLink subject="rehearsal" />}
      </div>
      {result && (
        <Suspense>
          <RehearsalShares rehearsal={result.rehearsal} stale={result.key !== key} plan={desk.resolved} />
        </Suspense>
      )}
    </div>
  );
}
