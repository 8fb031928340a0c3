import { useState } from 'react';
import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import { plural, write } from '#core/text/words';
import { boundFrom, boundOfMount } from '#features/results/model/bounds';
import type { StudyFacts } from '#features/results/model/facts';
import type { MountFigure } from '#features/results/model/figures';
import { Quiet, TextBox } from '#ui/Form.tsx';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { sendJson } from '#ui/send';
import { offerUndo } from '#ui/undo';
import { useSeen } from '#ui/useSeen';
import { mountWords } from './mountWords';

interface MountLedgerProps {
  facts: StudyFacts;
  figures: MountFigure[];
  outcome: OutcomeKey;
  odd: { specimen: string; mount: string }[];
}

/** What each specimen's figure rests on: its mounts with their values, those that failed, and those left out with their reason. */
export function MountLedger({ facts, figures, outcome, odd }: MountLedgerProps) {
  const [chosen, setChosen] = useState<MountFigure | null>(null);
  const { digits } = OUTCOMES[outcome];
  return (
    <div>
      <ul className="grid gap-x-10 lg:grid-cols-2">
        {facts.specimens.map((s) => {
          const mounts = figures.filter((m) => m.specimen === s.name);
          return (
            <li key={s.id} className="grid grid-cols-[minmax(8rem,9.5rem)_minmax(0,1fr)] items-start gap-x-4 border-b border-rule py-2">
              <span className="flex items-center gap-2 pt-1 font-semibold">
                <SpecimenMark position={s.position} size={5} />
                {s.name}
              </span>
              <div>
                <div className="flex flex-wrap gap-1.5">
                  {mounts.map((m) => (
                    <button
                      key={m.mount_id}
                      type="button"
                      aria-expanded={chosen?.mount_id === m.mount_id}
                      aria-label={`${s.name}, mount ${m.mount}: ${figureWords(m, outcome)}`}
                      className={`figure min-h-8 border px-2 text-note hover:bg-band ${m.excluded_reason ? 'border-dashed border-soft text-soft line-through' : odd.some((o) => o.specimen === s.name && o.mount === String(m.mount)) ? 'border-ember text-ember' : 'border-rule'}`}
                      onClick={() => setChosen(chosen?.mount_id === m.mount_id ? null : m)}
                    >
                      <span className="text-soft">{m.mount}</span> {mountWords(m, digits)}
                    </button>
                  ))}
                  {mounts.length === 0 && <span className="pt-1 text-soft">no run yet</span>}
                </div>
                <p className="mt-1 text-note text-soft">
                  {s.tries > 0 &&
                    `${plural(s.tries, 'application')}, ${s.failed} failed${s.failed > 0 ? ` (${Math.round((100 * s.failed) / s.tries)} %)` : ''}`}
                  {mounts.some((m) => m.excluded_reason) &&
                    `${s.tries > 0 ? '; ' : ''}left out: ${mounts.flatMap((m) => (m.excluded_reason ? `mount ${m.mount}, ${m.excluded_reason}` : [])).join('; ')}`}
                </p>
                {chosen?.specimen === s.name && <MountChoice key={chosen.mount_id} mount={chosen} />}
              </div>
            </li>
          );
        })}
      </ul>
    </div>
  );
}

function figureWords(m: MountFigure, outcome: OutcomeKey): string {
  const { digits } = OUTCOMES[outcome];
  if (m.value !== null) return write(m.value, digits);
  if (m.left_out_value !== null) return `${write(m.left_out_value, digits)}, left out`;
  const bound = boundOfMount(m);
  return bound ? boundFrom(outcome, bound) : 'no value';
}

/** One mount: where to look at it, and leaving it out with a reason, or taking it in again. */
function MountChoice({ mount }: { mount: MountFigure }) {
  const [reason, setReason] = useState('');
  const [told, setTold] = useState<string | null>(null);
  const { seen, refused } = useSeen(mount.excluded_reason);
  const decide = async (why: string | null) => {
    const url = `/api/mounts/${mount.mount_id}/excluded`;
    const who = localStorage.getItem('initials') ?? '';
    if (!(await sendJson('PUT', url, { reason: why, who, seen: seen() }, setTold, refused))) return;
    offerUndo({
      words: `${mount.specimen}, mount ${mount.mount}, is ${why === null ? 'included again' : 'left out'}.`,
      ...{ method: 'PUT', url, body: { reason: mount.excluded_reason, who, seen: why?.trim() ?? null } },
    });
    globalThis.location.reload();
  };
  return (
    <div className="mt-2 border-l-4 border-ember pl-4">
      <p className="flex flex-wrap gap-x-4">
        <a href={`/mounts/${mount.mount_id}`}>Mount {mount.mount}</a>
        {mount.run_ids.map((id, i) => (
          <a key={id} href={`/runs/${id}`}>
            Run {i + 1}
          </a>
        ))}
      </p>
      {mount.excluded_reason ? (
        <Quiet className="mt-2" onClick={() => void decide(null)}>
          Include again
        </Quiet>
      ) : (
        <form
          className="mt-2 flex flex-wrap items-end gap-3"
          onSubmit={(e) => {
            e.preventDefault();
            void decide(reason);
          }}
        >
          <div className="min-w-60 flex-1">
            <TextBox
              label="Reason for leaving it out"
              hint="Printed in the report; verdicts are also shown with it."
              value={reason}
              maxLength={500}
              onChange={setReason}
            />
          </div>
          <button type="submit" className="act" disabled={reason.trim() === ''}>
            Leave out
          </button>
        </form>
      )}
      {told && (
        <p role="alert" className="mt-1 font-semibold text-ember">
          {told}
        </p>
      )}
    </div>
  );
}
