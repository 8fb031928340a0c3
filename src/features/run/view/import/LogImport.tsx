import type { Remote } from 'comlink';
import { FilePlus2 } from 'lucide-react';
import { lazy, Suspense, useCallback, useEffect, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { MAX_LOG_BYTES } from '#core/signal/logs/decode';
import { bytesWords } from '#core/text/bytesWords';
import { Act, Quiet } from '#ui/Form.tsx';
import { useWorker } from '#ui/useWorker';
import type { SpreadsheetApi } from './spreadsheet.worker';
import { type ImportContext, pathOf } from './types';

// the sheets with their charts and forms are fetched when they are wanted, so that every page stays light
const ImportSheet = lazy(() => import('./ImportSheet.tsx'));
const TypedSheet = lazy(() => import('./TypedSheet.tsx'));
const TypedTableSheet = lazy(() => import('./TypedTableSheet.tsx').then((m) => ({ default: m.TypedTableSheet })));

/** The text of a file that is a table of readings, a row a run; null where it is a log, or too large to be typed. */
async function readingTable(file: File): Promise<string | null> {
  if (file.size > MOST_TABLE_BYTES || !/\.(csv|tsv|txt)$/i.test(file.name)) return null;
  const text = await file.text();
  const { parseTable } = await import('./parseTable');
  const { isReadingTable } = await import('#features/run/model/readingTable');
  return isReadingTable(parseTable(text.slice(0, 4000))[0] ?? []) ? text : null;
}

/** A spreadsheet as the logs or tables of its sheets, anything else as it is; a sentence where it cannot be read. */
async function asLogs(file: File, worker: () => Remote<SpreadsheetApi>): Promise<File[] | string> {
  if (/\.(xls|numbers)$/i.test(file.name)) return `${file.name} cannot be read; save it as .xlsx, .ods or CSV.`;
  if (!/\.(xlsx|ods)$/i.test(file.name)) return [file];
  if (file.size > MOST_BOOK_BYTES)
    return `${file.name} has ${bytesWords(file.size)}; spreadsheets of up to ${bytesWords(MOST_BOOK_BYTES)} are read. Save its sheets as CSV.`;
  const base = file.name.replace(/\.\w+$/, '');
  try {
    const sheets = await worker().read(file.name, new Uint8Array(await file.arrayBuffer()));
    if (sheets.length === 0) return `${file.name} has no cell with anything in it.`;
    return sheets.map(({ name, text }) => new File([text], sheets.length === 1 ? `${base}.csv` : `${base} ${name}.csv`));
  } catch (error) {
    return `${file.name} cannot be read: ${(error as Error).message}`;
  }
}

const MOST_BOOK_BYTES = 100_000_000;
const MOST_TABLE_BYTES = 2 ** 20;

/** Most files dropped at once. */
const MOST_FILES = 200;

/**
 * The import of logs: a button, a drop target over the whole page, and the sheet that shows what was understood; or readings typed by hand.
 */
export function LogImport({ context }: { context: ImportContext }) {
  const [files, setFiles] = useState<File[]>([]);
  const [typing, setTyping] = useState(false);
  const [table, setTable] = useState<{ text: string; name: string } | null>(null);
  const [notice, setNotice] = useState<string | null>(null);
  const [dragging, setDragging] = useState(false);

  const { ask: spreadsheets } = useWorker<SpreadsheetApi>('spreadsheet');
  const accept = useCallback(
    async (given: File[]) => {
      setDragging(false);
      const read = await Promise.all(given.map((f) => asLogs(f, spreadsheets)));
      const unread = read.find((r) => typeof r === 'string');
      if (unread !== undefined) return setNotice(unread);
      const dropped = (read as File[][]).flat();
      if (dropped.length === 0) return;
      const archive = dropped.find((f) => /\.zip$/i.test(f.name));
      if (archive) {
        // whoever brings packages in takes it
        window.dispatchEvent(new CustomEvent('package', { detail: archive }));
        return;
      }
      const typed = dropped.length === 1 ? await readingTable(dropped[0]) : null;
      if (typed !== null) {
        setTable({ text: typed, name: dropped[0].name });
        return;
      }
      const photograph = dropped.find((f) => f.type.startsWith('image/'));
      if (photograph) {
        // where a photograph belongs on this page, whoever shows it takes it
        const left = window.dispatchEvent(new CustomEvent('photograph', { detail: photograph, cancelable: true }));
        if (left)
          setNotice(
            `${photograph.name} is a photograph, not a log: imprints are measured under Tools, Imprint, and photographs are added on a mount's page.`,
          );
        return;
      }
      const large = dropped.find((f) => f.size > MAX_LOG_BYTES);
      if (large) {
        setNotice(`${large.name} has ${Math.round(large.size / 1048576)} MB; up to ${MAX_LOG_BYTES / 1048576} MB are read.`);
        return;
      }
      setNotice(null);
      setFiles((known) => {
        const together = [...known.filter((k) => !dropped.some((r) => pathOf(r) === pathOf(k))), ...dropped];
        if (together.length > MOST_FILES) setNotice(`Up to ${MOST_FILES} files are read at once; the first ${MOST_FILES} are.`);
        return together.slice(0, MOST_FILES);
      });
    },
    [spreadsheets],
  );
  // what a package of another program was taken apart into
  useEffect(() => {
    const take = (e: Event) => void accept((e as CustomEvent<File[]>).detail);
    window.addEventListener('logs', take);
    return () => window.removeEventListener('logs', take);
  }, [accept]);
  const { getRootProps, getInputProps, open } = useDropzone({ onDrop: accept, noClick: true, noKeyboard: true });

  useEffect(() => {
    const enter = (e: DragEvent) => {
      if (e.dataTransfer?.types.includes('Files')) setDragging(true);
    };
    const leave = (e: DragEvent) => {
      if (e.relatedTarget === null) setDragging(false);
    };
    window.addEventListener('dragenter', enter);
    window.addEventListener('dragleave', leave);
    return () => {
      window.removeEventListener('dragenter', enter);
      window.removeEventListener('dragleave', leave);
    };
  }, []);

  const close = () => {
    setFiles([]);
    setNotice(null);
  };

  return (
    <>
      <Quiet onClick={() => setTyping(true)}>Enter readings</Quiet>
      <Act className="inline-flex items-center gap-2" onClick={open}>
        <FilePlus2 size={17} aria-hidden="true" />
        Add a log
      </Act>
      <div {...getRootProps()} className={dragging ? 'fixed inset-0 z-[60] grid place-items-center bg-paper/90' : 'hidden'}>
        <input {...getInputProps({ 'aria-label': 'Log files' })} data-testid="log-files" />
        <p className="border-4 border-dashed border-ember px-12 py-10 text-verdict font-semibold">Drop it here</p>
      </div>
      {notice && files.length === 0 && (
        <p role="alert" className="fixed right-4 bottom-4 z-50 max-w-md border-l-4 border-ember bg-leaf px-4 py-3">
          {notice}
        </p>
      )}
      {files.length > 0 && (
        <Suspense fallback={null}>
          <ImportSheet files={files} context={context} notice={notice} onAddFile={open} onClose={close} />
        </Suspense>
      )}
      {table !== null && (
        <Suspense fallback={null}>
          <TypedTableSheet context={context} text={table.text} name={table.name} onClose={() => setTable(null)} />
        </Suspense>
      )}
      {typing && (
        <Suspense fallback={null}>
          <TypedSheet context={context} onClose={() => setTyping(false)} />
        </Suspense>
      )}
    </>
  );
}
