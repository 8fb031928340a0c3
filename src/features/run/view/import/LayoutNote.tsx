import type { LogOptions } from '#core/signal/logs/types';
import { decisionsOf, type Layout } from '#features/run/model/layout';
import type { LayoutView } from '#features/run/server/layouts';
import { Quiet } from '#ui/Button.tsx';
import type { RunChoices } from './types';

interface LayoutNoteProps {
  layout: LayoutView;
  /** true while the files are read by it */
  used: boolean;
  onUse: (id: number | null) => void;
  onReading: (reading: LogOptions) => void;
  onChoices: (change: (c: RunChoices) => RunChoices) => void;
}

/** Says by which layout a file is read, and lets it be taken up or left. */
export function LayoutNote({ layout, used, onUse, onReading, onChoices }: LayoutNoteProps) {
  const put = (reading: LogOptions, sensor: string | null, id: number | null) => {
    onUse(id);
    onReading(reading);
    onChoices((c) => ({ ...c, sensor }));
  };
  return (
    <p className="flex flex-wrap items-center gap-x-3 border-l-4 border-cool bg-leaf px-4 py-2">
      <span>
        {used ? 'Read by the layout' : 'There is a layout for files like this,'} <strong>{layout.name}</strong>
        {used ? `: ${decisionsOf(layout as unknown as Layout).join(', ')}.` : '.'}
      </span>
      {used ? (
        <Quiet onClick={() => put({}, null, null)}>Read it by guesses</Quiet>
      ) : (
        <Quiet onClick={() => put(layout.reading as LogOptions, layout.sensor, layout.id)}>Read it by the layout</Quiet>
      )}
      <a href="/layouts" className="underline decoration-soft">
        All layouts
      </a>
    </p>
  );
}
