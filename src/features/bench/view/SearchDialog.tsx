import { Dialog } from 'radix-ui';
import { type KeyboardEvent, type ReactNode, useEffect, useId, useRef, useState } from 'react';
import type { Found } from '#features/bench/model/found';
import { Tick } from '#ui/Form.tsx';
import { recentPages } from './recent';
import { areOn, SHORTCUTS, turn } from './shortcuts';

/** How long typing rests before it is looked for. */
const REST_MS = 120;

/** What is found for a text; pages that were looked at last while there is none. */
function useFound(text: string): { found: Found[]; told: string | null } {
  const [found, setFound] = useState<Found[]>(recentPages);
  const [told, setTold] = useState<string | null>(null);
  useEffect(() => {
    if (text.trim() === '') {
      setFound(recentPages());
      setTold(null);
      return;
    }
    const control = new AbortController();
    const timer = setTimeout(async () => {
      const response = await fetch(`/api/search?q=${encodeURIComponent(text)}`, { signal: control.signal }).catch(() => null);
      if (control.signal.aborted) return;
      if (!response?.ok) return setTold('The store does not answer; try again in a moment.');
      setTold(null);
      setFound((await response.json()).found);
    }, REST_MS);
    return () => {
      clearTimeout(timer);
      control.abort();
    };
  }, [text]);
  return { found, told };
}

/** One field over studies, specimens, sheets, mounts, runs, reports and tools; the arrows choose, Enter goes. */
export function SearchDialog({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const { found, told } = useFound(text);
  const list = useRef<HTMLDivElement>(null);
  const id = useId();
  const chosen = Math.min(at, found.length - 1);
  const press = (e: KeyboardEvent) => {
    if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
      e.preventDefault();
      const next = (chosen + (e.key === 'ArrowDown' ? 1 : -1) + found.length) % Math.max(1, found.length);
      setAt(next);
      list.current?.children[next]?.scrollIntoView({ block: 'nearest' });
    } else if (e.key === 'Enter' && found[chosen]) window.location.assign(found[chosen].href);
  };
  return (
    <Panel title="Search and go" onClose={onClose}>
      <input
        // biome-ignore lint/a11y/noAutofocus: it was opened to type
        autoFocus
        type="search"
        role="combobox"
        aria-label="Study, specimen, material, mount, lot, file, report or tool"
        aria-expanded={found.length > 0}
        aria-controls={`${id}-found`}
        aria-activedescendant={found.length > 0 ? `${id}-${chosen}` : undefined}
        className="field w-full text-title"
        placeholder="Study, material, lot, file, report, tool …"
        maxLength={120}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={press}
      />
      {told && (
        <p role="alert" className="mt-3">
          {told}
        </p>
      )}
      <p className="sr-only" role="status">
        {text.trim() !== '' && `${found.length} found`}
      </p>
      {found.length === 0 ? (
        <p className="mt-3 text-soft">
          {text.trim() === ''
            ? 'Names of studies, materials and rigs, lots of mounts, file names of runs, reports and tools are found here.'
            : `Nothing is called “${text.trim()}”.`}
        </p>
      ) : (
        <div ref={list} id={`${id}-found`} role="listbox" aria-label="What was found" className="mt-3 max-h-[55vh] overflow-y-auto">
          {found.map((f, i) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the field above takes the keys
            <div
              key={f.kind + f.href + f.name}
              id={`${id}-${i}`}
              role="option"
              aria-selected={i === chosen}
              tabIndex={-1}
              className={`grid cursor-pointer grid-cols-[6.5rem_minmax(0,1fr)] gap-x-3 border-b border-rule px-2 py-2 ${i === chosen ? 'bg-band' : ''}`}
              onMouseMove={() => setAt(i)}
              onClick={() => window.location.assign(f.href)}
            >
              <span className="text-note text-soft">{f.kind}</span>
              <span className="min-w-0">
                <span className="font-semibold">{f.name}</span>
                {f.about && <span className="block truncate text-note text-soft">{f.about}</span>}
              </span>
            </div>
          ))}
        </div>
      )}
    </Panel>
  );
}

/** The keys of the commonest acts, and whether they are on. */
export function KeysDialog({ onClose }: { onClose: () => void }) {
  const [on, setOn] = useState(areOn);
  return (
    <Panel title="Keys" onClose={onClose}>
      <dl className="grid grid-cols-[4rem_minmax(0,1fr)] gap-y-1">
        {SHORTCUTS.map((s) => (
          <div key={s.key} className="contents">
            <dt>
              <kbd className="figure border border-rule bg-paper px-2 py-0.5">{s.key}</kbd>
            </dt>
            <dd>{s.words}</dd>
          </div>
        ))}
      </dl>
      <Tick
        words="Keys of one letter are on"
        className="mt-4"
        checked={on}
        onChange={(next) => {
          turn(next);
          setOn(next);
        }}
      />
    </Panel>
  );
}

const Panel = ({ title, onClose, children }: { title: string; onClose: () => void; children: ReactNode }) => (
  <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onClose()}>
    <Dialog.Portal>
      <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
      <Dialog.Content
        aria-describedby={undefined}
        className="fixed inset-x-0 top-[8vh] z-50 mx-auto w-[min(44rem,calc(100vw-2rem))] border-2 border-ink bg-leaf p-5"
      >
        <Dialog.Title className="mb-3 text-name font-semibold">{title}</Dialog.Title>
        {children}
      </Dialog.Content>
    </Dialog.Portal>
  </Dialog.Root>
);
