import { useState } from 'react';
import { plural } from '#core/text/words';
import type { BinView } from '#features/run/server/bin';
import { BIN_DAYS } from '#features/study/model/binKinds';
import { Alert, Quiet } from '#ui/Form.tsx';
import { send } from '#ui/send';
import { Table } from '#ui/Table.tsx';

type Entry = BinView['entries'][number];

const KIND_WORDS: Record<Entry['kind'], string> = {
  ...{
    study: 'Study',
    specimen: 'Specimen',
    mount: 'Mount',
    try: 'Try',
    run: 'Run',
    note: 'Note',
    draft: 'Draft of a report',
    sheet: 'Sheet of the shelf',
  },
};

/** Page of a thing that came back. */
const pageOf = ({ kind, subject_id, study_id, section }: Entry): string => {
  if (kind === 'study') return `/studies/${subject_id}/plan`;
  if (kind === 'mount') return `/mounts/${subject_id}`;
  if (kind === 'run') return `/runs/${subject_id}`;
  if (kind === 'sheet') return `/shelf/${section}/${subject_id}`;
  return `/studies/${study_id}/${kind === 'draft' ? 'report' : kind === 'specimen' ? 'plan' : 'mounts'}`;
};

/** What was deleted, to be restored or deleted for good. */
export function BinDesk({ initial }: { initial: BinView }) {
  const [view, setView] = useState(initial);
  const [told, setTold] = useState<string | null>(null);
  const [back, setBack] = useState<Entry | null>(null);
  const look = async () => {
    const response = await fetch('/api/bin/list').catch(() => null);
    if (response?.ok) setView(await response.json());
  };
  const restore = async (entry: Entry) => {
    if (await send(`/api/bin/${entry.id}`, { method: 'POST' }, setTold)) setBack(entry);
    await look();
  };
  const erase = async (entry: Entry | null) => {
    const what = entry ? `${entry.title}${entry.contents ? ` with ${entry.contents}` : ''}` : `all ${view.total} things in the bin`;
    if (!window.confirm(`Delete ${what} for good? This cannot be undone.`)) return;
    await send(entry ? `/api/bin/${entry.id}` : '/api/bin', { method: 'DELETE' }, setTold);
    setBack(null);
    await look();
  };
  return (
    <div>
      <Alert>{told}</Alert>
      {back && (
        <p role="status" className="mt-3 border-l-4 border-cool pl-3">
          {back.title} is restored:{' '}
          <a className="underline" href={pageOf(back)}>
            open it
          </a>
        </p>
      )}
      {view.entries.length === 0 ? (
        <p className="section-rule mt-4 max-w-xl text-name">
          Nothing is in the bin. Whatever you delete stays here for {BIN_DAYS} days and can be restored with all that went with it.
        </p>
      ) : (
        <>
          <Table
            label="What was deleted"
            className="mt-4"
            rows={view.entries}
            keyOf={(e) => e.id}
            columns={[
              {
                head: 'What',
                cell: (e) => (
                  <>
                    <span className="font-semibold">{e.title}</span>
                    <span className="block text-note text-soft">
                      {KIND_WORDS[e.kind]}
                      {e.study && e.kind !== 'study' && ` of ${e.study}`}
                      {e.contents && `, with ${e.contents}`}
                    </span>
                  </>
                ),
              },
              { head: 'Deleted', cell: (e) => `${e.deleted_at.slice(0, 10)}${e.who ? `, ${e.who}` : ''}` },
              { head: 'Why', className: 'text-soft', cell: (e) => e.reason },
              { head: 'Goes for good in', cell: (e) => plural(e.days_left, 'day') },
              {
                head: <span className="sr-only">Actions</span>,
                cell: (e) => (
                  <span className="flex gap-2">
                    <Quiet aria-label={`Restore ${e.title}`} onClick={() => void restore(e)}>
                      Restore
                    </Quiet>
                    <Quiet aria-label={`Delete ${e.title} for good`} onClick={() => void erase(e)}>
                      Delete for good
                    </Quiet>
                  </span>
                ),
              },
            ]}
          />
          {view.total > view.entries.length && <p className="mt-2 text-soft">and {view.total - view.entries.length} more</p>}
          <Quiet className="mt-6" onClick={() => void erase(null)}>
            Empty the bin
          </Quiet>
        </>
      )}
    </div>
  );
}
