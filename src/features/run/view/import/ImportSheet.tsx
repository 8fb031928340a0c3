import { useEffect, useState } from 'react';
import { MAX_RUN_FILES } from '#core/signal/logs/decode';
import { looksLikeResults } from '#core/signal/performance/readResults';
import { Quiet, Tick } from '#ui/Form.tsx';
import { Sheet } from '#ui/Sheet.tsx';
import { useWorker } from '#ui/useWorker';
import { BatchSheet } from './BatchSheet.tsx';
import type { PreviewApi } from './preview.worker';
import { RunSheet } from './RunSheet.tsx';
import type { ImportContext } from './types';

interface ImportSheetProps {
  files: File[];
  context: ImportContext;
  notice: string | null;
  onAddFile: () => void;
  onClose: () => void;
}

/** The sheet of dropped files: of one run, or of several runs that are matched to their mounts. */
export default function ImportSheet({ files, context, notice, onAddFile, onClose }: ImportSheetProps) {
  const kinds = useKinds(files);
  const [together, setTogether] = useState<boolean | null>(null);
  if (!kinds) return null;
  const { logs, results, parts } = kinds;
  // files that each hold a part's temperature are runs of their own, unless a person says otherwise
  const isOne = logs.length <= 1 || (logs.length <= MAX_RUN_FILES && (together ?? parts < logs.length));
  const names = files.map((f) => f.name);
  const title = names.length > 3 ? `${names.length} files` : names.join(' + ');
  return (
    <Sheet
      title={title}
      closeLabel="Close without storing"
      notice={notice}
      onClose={onClose}
      actions={
        <Quiet className="whitespace-nowrap" onClick={onAddFile}>
          Add another file<span className="max-sm:hidden">{isOne ? ' of this run' : ''}</span>
        </Quiet>
      }
    >
      {logs.length > 1 && logs.length <= MAX_RUN_FILES && (
        <fieldset className="flex flex-wrap items-center gap-x-5 gap-y-1 px-4 pt-3 sm:px-9">
          <legend className="sr-only">What these files are</legend>
          <Tick words={`${logs.length} files of one run`} name="together" checked={isOne} onChange={() => setTogether(true)} />
          <Tick words={`${logs.length} runs, one in each file`} name="together" checked={!isOne} onChange={() => setTogether(false)} />
        </fieldset>
      )}
      {isOne ? <RunSheet logs={logs} results={results} context={context} /> : <BatchSheet logs={logs} context={context} />}
    </Sheet>
  );
}

interface Kinds {
  logs: File[];
  results: File[];
  /** logs that hold a part's temperature */
  parts: number;
}

/** Tells logs from results files, and counts the logs that could be a run alone; null while that is found out. */
function useKinds(files: File[]): Kinds | null {
  const { ask } = useWorker<PreviewApi>('preview');
  const [kinds, setKinds] = useState<{ of: File[]; kinds: Kinds } | null>(null);
  useEffect(() => {
    let current = true;
    const sort = async () => {
      const heads = await Promise.all(files.map((f) => f.slice(0, 4096).text()));
      const isResults = heads.map((h) => looksLikeResults(h));
      const logs = files.filter((_, i) => !isResults[i]);
      const parts = logs.length > 1 ? await Promise.all(logs.slice(0, MAX_RUN_FILES).map((f) => ask().holdsPart(f))) : [];
      const sorted = { logs, results: files.filter((_, i) => isResults[i]), parts: parts.filter(Boolean).length };
      if (current) setKinds({ of: files, kinds: sorted });
    };
    void sort();
    return () => {
      current = false;
    };
  }, [files, ask]);
  return kinds?.kinds ?? null;
}
