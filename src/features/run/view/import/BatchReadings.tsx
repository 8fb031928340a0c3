import { useState } from 'react';
import { plural } from '#core/text/words';
import { decisionsOf, isDecided, type Layout } from '#features/run/model/layout';
import { Quiet } from '#ui/Form.tsx';
import { ReadingPanel } from './ReadingPanel.tsx';
import type { RunChoices } from './types';
import { type Batch, type BatchReading, type BatchRow, readingKey } from './useBatch';
import { headersOf } from './useLayouts';

interface BatchReadingsProps {
  batch: Batch;
  onRemember: (layout: object) => Promise<boolean>;
}

/** How the files are read: what is decided for one holds for all with the same headers. */
export function BatchReadings({ batch, onRemember }: BatchReadingsProps) {
  const groups = new Map<string, BatchRow[]>();
  for (const row of batch.list) {
    const key = readingKey(row);
    if (key !== null) groups.set(key, [...(groups.get(key) ?? []), row]);
  }
  return (
    <section aria-label="How the files are read" className="flex flex-col gap-1">
      {[...groups].map(([key, rows]) => (
        <Group key={key} rows={rows} batch={batch} onRemember={onRemember} />
      ))}
    </section>
  );
}

function Group({ rows, batch, onRemember }: { rows: BatchRow[]; batch: Batch; onRemember: BatchReadingsProps['onRemember'] }) {
  const [first] = rows;
  const { how, preview } = first;
  const isWrong = rows.some((r) => r.preview?.problem || r.preview?.reduction?.valid === false);
  const [open, setOpen] = useState<boolean | null>(null);
  const [remembered, setRemembered] = useState(false);
  const isOpen = open ?? Boolean(preview?.problem && preview.asks);
  const keys = rows.filter((r) => r.state === 'read' || r.state === 'refused').map((r) => r.key);
  const decide = (part: Partial<BatchReading>) => {
    setRemembered(false);
    batch.changeAll(keys, (r) => ({ how: { ...r.how, ...part } }));
  };
  const choices: RunChoices = { ...how, limit_c: null, first: null, study_id: null, load: null };
  const headers = headersOf(preview?.logs[0]);
  const said = decisionsOf({ headers: headers ?? [], reading: how.reading, sensor: how.sensor, name: '' } as unknown as Layout);
  const used = preview?.logs[0]?.columns.filter((c) => c.role !== 'ignore') ?? [];
  return (
    <details open={isOpen} onToggle={(e) => setOpen((e.target as HTMLDetailsElement).open)}>
      <summary className={`min-h-9 cursor-pointer py-1.5 ${isWrong ? 'font-semibold' : ''}`}>
        {rows.length === 1 ? `How ${first.name} is read` : `How the ${rows.length} files with the same columns are read`}
        {used.length > 0 && <span className="font-normal text-soft">: {plural(used.length, 'column')} used</span>}
        {said.length > 0 && <span className="font-normal text-soft">; {said.join(', ')}</span>}
      </summary>
      {isOpen && (
        <div className="flex flex-col gap-3 border-l-4 border-rule pl-4">
          {rows.length > 1 && (
            <p className="text-soft">
              Shown is {first.name}; what you change holds for all {rows.length} files.
            </p>
          )}
          <ReadingPanel
            preview={preview}
            reading={how.reading}
            onReading={(reading) => decide({ reading })}
            choices={choices}
            onChoices={(change) => {
              const { sensor, room_c, room_u_k } = change(choices);
              decide({ sensor, room_c, room_u_k });
            }}
          />
          {headers && isDecided(how.reading, how.sensor) && how.layout_id === null && (
            <p>
              {remembered ? (
                'Remembered: files with these headers are read this way from now on.'
              ) : (
                <Quiet
                  onClick={async () => {
                    const name = `Columns of ${first.name}`.slice(0, 120);
                    setRemembered(await onRemember({ name, headers, reading: how.reading, sensor: how.sensor }));
                  }}
                >
                  Always read files with these headers this way
                </Quiet>
              )}
            </p>
          )}
        </div>
      )}
    </details>
  );
}
