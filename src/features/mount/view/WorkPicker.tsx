import { WORK, type WorkKind } from '#features/mount/model/work';
import type { MountDesk } from './useMount';

/** What else is done to the machine in this try; each adds its steps. */
export function WorkPicker({ desk }: { desk: MountDesk }) {
  const work = desk.view.current?.work ?? [];
  return (
    <details className="mt-6 border-t border-rule pt-2">
      <summary className="min-h-11 cursor-pointer py-2">
        Work on the machine itself{work.length > 0 && `: ${work.map((w) => WORK[w].toLowerCase()).join(', ')}`}
      </summary>
      <p className="text-note text-soft">Each adds its steps, in their place.</p>
      <div className="grid sm:grid-cols-2">
        {(Object.keys(WORK) as WorkKind[]).map((w) => (
          <label key={w} className="flex min-h-11 items-center gap-3">
            <input
              type="checkbox"
              className="size-5 shrink-0"
              checked={work.includes(w)}
              onChange={(e) => void desk.setWork(e.target.checked ? [...work, w] : work.filter((v) => v !== w))}
            />
            {WORK[w]}
          </label>
        ))}
      </div>
    </details>
  );
}
