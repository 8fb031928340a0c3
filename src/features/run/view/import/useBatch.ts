import { useEffect, useRef, useState } from 'react';
import type { LogOptions } from '#core/signal/logs/types';
import type { ReduceOptions } from '#core/signal/reduce/types';
import type { BatchFile } from '#features/run/model/batch';
import { useWorker } from '#ui/useWorker';
import { hashOf, type KnownRun, knownRun } from './knownRun';
import type { Preview, PreviewApi } from './preview.worker';
import { pathOf } from './types';
import { layoutFor, useLayouts } from './useLayouts';

/** How a file is read: what was decided over the guesses. */
export interface BatchReading {
  reading: LogOptions;
  sensor: string | null;
  room_c: number | null;
  room_u_k: number | null;
  layout_id: number | null;
}

/** A file of a batch, and what became of it. */
export interface BatchRow extends BatchFile {
  file: File;
  importId: string;
  preview: Preview | null;
  how: BatchReading;
  /** under which choices the preview was made */
  readUnder: string | null;
  sha: string | null;
  /** run that rests on the file already */
  known: KnownRun | null;
  /** file of this batch with the same bytes, which came before */
  twin: string | null;
  state: 'reading' | 'read' | 'storing' | 'stored' | 'refused';
  said: string | null;
  run_id: number | null;
  /** left out, or taken, by hand; null: as it is found */
  leave: boolean | null;
}

const freshRow = (file: File): BatchRow => {
  const path = pathOf(file);
  return {
    ...{ file, key: path, name: file.name, folder: path.split('/').at(-2) ?? null, began: null, importId: crypto.randomUUID() },
    ...{ preview: null, readUnder: null, sha: null, known: null, twin: null, state: 'reading', said: null, run_id: null, leave: null },
    how: { reading: {}, sensor: null, room_c: null, room_u_k: 0.5, layout_id: null },
  };
};

/** True where a file is not stored as it stands: it has a run already, lies in the batch twice, or a person leaves it out. */
export const isLeft = (row: BatchRow): boolean => row.leave ?? (row.known !== null || row.twin !== null);

/** Files that are read alike: those with the same headers, or that ask the same. */
export const readingKey = ({ preview }: BatchRow): string | null =>
  preview === null ? null : preview.asks ? `asks ${preview.asks}` : JSON.stringify(preview.logs[0]?.headers ?? preview.problem);

/** When a log began, ms since 1970; a clock without a zone is the reader's own. */
export function beganAt(preview: Preview | null): number | null {
  const time = preview?.logs[0]?.time;
  if (!time || time.start_epoch_s === null) return null;
  const ms = 1000 * time.start_epoch_s;
  return time.zoned ? ms : ms + 60_000 * new Date(ms).getTimezoneOffset();
}

/**
 * The files of a batch, read one after the other in a web worker, each by its layout where there is one, and anew where a choice changes.
 * @param optionsOf how a file's run is reduced where it is to go
 */
export function useBatch(files: File[], optionsOf: (row: BatchRow) => Partial<ReduceOptions>) {
  const { ask: worker } = useWorker<PreviewApi>('preview');
  const layouts = useLayouts();
  const [list, setList] = useState<BatchRow[]>([]);
  const busy = useRef(false);
  const [, setRound] = useState(0);
  const change = (key: string, part: Partial<BatchRow>) => setList((rows) => rows.map((r) => (r.key === key ? { ...r, ...part } : r)));
  const changeAll = (keys: string[], part: (row: BatchRow) => Partial<BatchRow>) =>
    setList((rows) => rows.map((r) => (keys.includes(r.key) ? { ...r, ...part(r) } : r)));
  useEffect(() => {
    setList((rows) => {
      const fresh = files.filter((f) => !rows.some((r) => r.file === f)).map(freshRow);
      return fresh.length === 0 ? rows : [...rows.filter((r) => !fresh.some((f) => f.key === r.key)), ...fresh];
    });
  }, [files]);
  const [isReading, setIsReading] = useState(true);

  // one file after the other, whenever one is not read as it should be; looked for at each drawing, as a change of place changes how it is read
  useEffect(() => {
    const next = list.find((r) => r.state !== 'stored' && r.state !== 'storing' && r.readUnder !== JSON.stringify([r.how, optionsOf(r)]));
    setIsReading(next !== undefined);
    if (layouts === null || !next || busy.current) return;
    busy.current = true;
    const read = async (row: BatchRow) => {
      const ask = (how: BatchReading) => {
        const { sensor, room_c, room_u_k } = how;
        const options = { ...optionsOf(row), room_c, room_u_k, ...(sensor === null ? {} : { sensor }) };
        return worker()
          .preview({ files: [row.file], reading: how.reading, options, offsets: {} })
          .catch(
            (error: Error): Preview => ({
              ...{ logs: [], clocks: [], reduction: null, lines: [], asks: null, asked_of: null },
              problem: `The file could not be read: ${error.message}`,
            }),
          );
      };
      let { how } = row;
      const isFirst = row.preview === null;
      let preview = await ask(how);
      const layout = isFirst ? layoutFor(layouts, preview.logs[0]) : null;
      if (layout) {
        how = { ...how, reading: layout.reading as LogOptions, sensor: layout.sensor, layout_id: layout.id };
        preview = await ask(how);
      }
      const sha = row.sha ?? (await hashOf(row.file).catch(() => null));
      const known = isFirst ? await knownRun(sha) : row.known;
      const before = list.slice(
        0,
        list.findIndex((o) => o.key === row.key),
      );
      const twin = isFirst ? (before.find((o) => sha !== null && o.sha === sha)?.name ?? null) : row.twin;
      const under = JSON.stringify([row.how, optionsOf(row)]);
      setList((rows) =>
        rows.map((r) => {
          if (r.key !== row.key || r.file !== row.file) return r;
          // what was decided while it was read is read next
          const decided = JSON.stringify(r.how) === JSON.stringify(row.how) ? how : r.how;
          const readUnder = decided === how ? JSON.stringify([how, optionsOf(row)]) : under;
          const read = { ...r, preview, how: decided, readUnder, sha, known, twin, began: beganAt(preview) };
          // a file that went to the store meanwhile stays there
          if (r.state === 'storing' || r.state === 'stored') return read;
          return { ...read, state: preview.problem ? 'refused' : 'read', said: null };
        }),
      );
    };
    void read(next).finally(() => {
      busy.current = false;
      setRound((n) => n + 1);
    });
  });
  return { list, change, changeAll, isReading };
}
export type Batch = ReturnType<typeof useBatch>;
