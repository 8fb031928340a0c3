import { useState } from 'react';
import { LIVE_KINDS } from '#features/mount/model/liveKinds';
import { Act, Options } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { Section } from '#ui/Words.tsx';

type Kind = keyof typeof LIVE_KINDS;

/** Begins a live run of a mount, and leads to it. */
export function StartLive({ mountId }: { mountId: number }) {
  const [kind, setKind] = useState<Kind>('run');
  const [stop, setStop] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const start = async () => {
    const begun = await sendJson<{ id: number }>(
      'POST',
      '/api/live',
      { mount_id: mountId, kind, ...(kind === 'limit_test' && stop ? { stop_c: Number(stop) } : {}) },
      setProblem,
    );
    if (begun) location.assign(`/live/${begun.id}`);
  };
  return (
    <Section id="start-live" title="Run it live" className="mt-8">
      <p className="text-soft">
        The rig's instruments are read from now on; the averaging window opens by itself, and each run is stored when it closes.
      </p>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-note text-soft">What is run</span>
          <select className="field" value={kind} onChange={(e) => setKind(e.target.value as Kind)}>
            <Options choices={(Object.keys(LIVE_KINDS) as Kind[]).map((k) => [k, LIVE_KINDS[k]] as const)} />
          </select>
        </label>
        {kind === 'limit_test' && (
          <label>
            <span className="block text-note text-soft">Hard limit / °C</span>
            <input
              className="field w-24"
              inputMode="decimal"
              value={stop}
              placeholder="of the rig"
              onChange={(e) => setStop(e.target.value)}
            />
          </label>
        )}
        <Act className="px-5" onClick={start}>
          Go to pre-flight check
        </Act>
      </div>
      {problem && <p className="mt-2 border-l-4 border-ember pl-4">{problem}</p>}
    </Section>
  );
}
