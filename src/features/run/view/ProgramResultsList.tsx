import { useRef, useState } from 'react';
import type { Performance } from '#core/signal/reduce/types';
import { write } from '#core/text/words';
import type { ProgramResultsView } from '#features/run/server/programResults';
import { Alert, Quiet, Tick } from '#ui/Form.tsx';
import { send } from '#ui/send';
import { describeResults } from './describeResults';

interface ResultsDeskProps {
  runId: number;
  /** what the log itself or the person said */
  logged: Performance | null;
  power_w: number | null;
  programs: ProgramResultsView[];
}

/** What the part got done in a run: of its log, and of results files that are attached here. */
export function ProgramResultsList({ runId, logged, power_w, programs }: ResultsDeskProps) {
  const [list, setList] = useState(programs);
  const [told, setTold] = useState<string | null>(null);
  const [comparable, setComparable] = useState(true);
  const file = useRef<HTMLInputElement>(null);
  const attach = async (files: FileList | null) => {
    if (!files || files.length === 0) return;
    const body = new FormData();
    for (const f of files) body.append('results', f);
    body.set('comparable', comparable ? 'yes' : 'no');
    const answer = await send<{ results: ProgramResultsView[] }>(`/api/runs/${runId}/results`, { method: 'POST', body }, setTold);
    if (answer) setList(answer.results);
    if (file.current) file.current.value = '';
  };
  const remove = async (name: string) => {
    const answer = await send<{ results: ProgramResultsView[] }>(
      `/api/runs/${runId}/results?name=${encodeURIComponent(name)}`,
      { method: 'DELETE' },
      setTold,
    );
    if (answer) setList(answer.results);
  };
  return (
    <div>
      {logged && (
        <p className="border-b border-rule py-1.5">
          {describeResults(logged)}
          {logged.score_per_w !== null && `, ${write(logged.score_per_w, 2)} per watt`}
        </p>
      )}
      <ul>
        {list.map((r) => (
          <li key={r.name} className="flex items-baseline gap-3 border-b border-rule py-1.5">
            <span className="min-w-0">
              {describeResults(r.figures)}
              {r.figures.score !== null && power_w ? `, ${write(r.figures.score / power_w, 2)} per watt` : ''}
              <span className="block text-note break-all text-soft">{r.name}</span>
              {!r.comparable && (
                <span className="block text-note font-semibold text-ember">Not comparable: another program was running.</span>
              )}
            </span>
            <Quiet className="ml-auto" aria-label={`Delete the results of ${r.name}`} onClick={() => void remove(r.name)}>
              Remove
            </Quiet>
          </li>
        ))}
      </ul>
      {!logged && list.length === 0 && <p className="text-soft">No score, run time or frames yet.</p>}
      <p className="mt-2 flex flex-wrap items-center gap-x-4">
        <Quiet onClick={() => file.current?.click()}>Attach results</Quiet>
        <input
          ref={file}
          type="file"
          multiple
          accept=".csv,.json,.txt,.tsv"
          className="sr-only"
          tabIndex={-1}
          aria-label="Results files"
          onChange={(e) => void attach(e.target.files)}
        />
        <Tick words="another program was running" className="text-note" checked={!comparable} onChange={(on) => setComparable(!on)} />
      </p>
      <Alert>{told}</Alert>
    </div>
  );
}
