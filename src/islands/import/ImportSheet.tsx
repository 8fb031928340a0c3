import { X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useMemo, useState } from 'react';
import type { LogOptions } from '#core/logs/types';
import type { LogFile } from '#core/reduce/reduceLogs';
import { PlaceForm } from './PlaceForm.tsx';
import { ReadingPanel } from './ReadingPanel.tsx';
import type { ImportContext, RunChoices } from './types.ts';
import { usePlaces } from './usePlaces.ts';
import { usePreview } from './usePreview.ts';
import { ValuePanel } from './ValuePanel.tsx';

interface ImportSheetProps {
  files: LogFile[];
  importId: string;
  context: ImportContext;
  notice: string | null;
  onAddFile: () => void;
  onClose: () => void;
}

/** The sheet that shows what was understood of a log, its value, and asks where the run belongs. */
export default function ImportSheet({ files, importId, context, notice, onAddFile, onClose }: ImportSheetProps) {
  const [reading, setReading] = useState<LogOptions>({});
  const [choices, setChoices] = useState<RunChoices>({
    sensor: null,
    room_c: null,
    room_u_k: 0.5,
    limit_c: null,
    study_id: context.study_id ?? null,
    first: null,
  });
  const places = usePlaces();
  const study = places.data?.studies.find((s) => s.id === choices.study_id);
  const request = useMemo(() => {
    const options = {
      ...study?.reduction,
      margin_k: study?.margin_k ?? 1,
      sensor: choices.sensor ?? study?.reduction.sensor ?? null,
      room_c: choices.room_c,
      room_u_k: choices.room_u_k,
      limit_c: choices.limit_c,
      first: choices.first,
    };
    return { files, reading, options, offsets: {} };
  }, [files, reading, choices, study]);
  const { preview, busy } = usePreview(request);

  return (
    <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onClose()}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          onOpenAutoFocus={(e) => {
            e.preventDefault();
            (e.target as HTMLElement | null)?.focus();
          }}
          tabIndex={-1}
          onPointerDownOutside={(e) => e.preventDefault()}
          className="fixed inset-0 z-50 flex flex-col overflow-y-auto bg-paper focus:outline-none"
        >
          <div className="sticky top-0 z-10 flex items-center gap-4 border-b-[3px] border-ink bg-paper px-4 py-2 sm:px-9">
            <Dialog.Title className="min-w-0 truncate text-name font-semibold sm:text-title">{files.map((f) => f.name).join(' + ')}</Dialog.Title>
            <button type="button" onClick={onAddFile} className="quiet ml-auto whitespace-nowrap">
              Add another file<span className="max-sm:hidden"> of this run</span>
            </button>
            <Dialog.Close className="quiet inline-flex items-center gap-1" aria-label="Put the log away without storing">
              <X size={16} aria-hidden="true" /> <span className="max-sm:sr-only">Put away</span>
            </Dialog.Close>
          </div>
          {notice && (
            <p role="alert" className="px-9 pt-3 font-semibold text-ember">
              {notice}
            </p>
          )}
          <div className="grid flex-1 gap-10 px-4 pt-4 pb-12 sm:px-9 lg:grid-cols-[minmax(0,1fr)_430px]">
            <ReadingPanel preview={preview} reading={reading} onReading={setReading} choices={choices} onChoices={setChoices} />
            <div className="flex flex-col gap-6">
              <ValuePanel preview={preview} busy={busy} />
              <PlaceForm
                files={files}
                reading={reading}
                choices={choices}
                onChoices={setChoices}
                importId={importId}
                places={places}
                context={context}
                readable={preview?.reduction != null && !busy}
              />
            </div>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
