import { FilePlus2 } from 'lucide-react';
import { lazy, Suspense, useCallback, useEffect, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { MAX_LOG_BYTES, MAX_RUN_FILES } from '#core/logs/decode';
import type { LogFile } from '#core/reduce/reduceLogs';
import type { ImportContext } from './types.ts';

// the sheet with its charts and forms is fetched when a log is there, so that every page stays light
const ImportSheet = lazy(() => import('./ImportSheet.tsx'));

/** The import of a log: a button, a drop target over the whole page, and the sheet that shows what was understood. */
export function LogImport({ context }: { context: ImportContext }) {
  const [files, setFiles] = useState<LogFile[]>([]);
  const [importId, setImportId] = useState('');
  const [notice, setNotice] = useState<string | null>(null);
  const [dragging, setDragging] = useState(false);

  const accept = useCallback(async (dropped: File[]) => {
    setDragging(false);
    const photograph = dropped.find((f) => f.type.startsWith('image/'));
    if (photograph) {
      // where a photograph belongs on this page, whoever shows it takes it
      const left = window.dispatchEvent(new CustomEvent('photograph', { detail: photograph, cancelable: true }));
      if (left) setNotice(`${photograph.name} is a photograph, no log: prints are measured under Tools, Print, and photographs are added on a mount's page.`);
      return;
    }
    const large = dropped.find((f) => f.size > MAX_LOG_BYTES);
    if (large) {
      setNotice(`${large.name} has ${Math.round(large.size / 1048576)} MB; up to ${MAX_LOG_BYTES / 1048576} MB are read.`);
      return;
    }
    const read = await Promise.all(dropped.map(async (f) => ({ name: f.name, bytes: new Uint8Array(await f.arrayBuffer()) })));
    setNotice(null);
    setFiles((known) => {
      const together = [...known.filter((k) => !read.some((r) => r.name === k.name)), ...read];
      if (together.length > MAX_RUN_FILES) setNotice(`A run has up to ${MAX_RUN_FILES} log files; the first ${MAX_RUN_FILES} are taken.`);
      return together.slice(0, MAX_RUN_FILES);
    });
    setImportId((id) => id || crypto.randomUUID());
  }, []);
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
    setImportId('');
    setNotice(null);
  };

  return (
    <>
      <button type="button" onClick={open} className="act inline-flex items-center gap-2">
        <FilePlus2 size={17} aria-hidden="true" />
        Add a log
      </button>
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
          <ImportSheet files={files} importId={importId} context={context} notice={notice} onAddFile={open} onClose={close} />
        </Suspense>
      )}
    </>
  );
}
