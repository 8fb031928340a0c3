import { Search } from 'lucide-react';
import { lazy, Suspense, useEffect, useState } from 'react';
import { noteVisit } from './recent';
import { areOn, earlyKeys, isTaken, SHORTCUTS, studyAtHand } from './shortcuts';

// what is opened is fetched when it is wanted, so that every page stays light
const SearchDialog = lazy(() => import('./SearchDialog.tsx').then((m) => ({ default: m.SearchDialog })));
const KeysDialog = lazy(() => import('./SearchDialog.tsx').then((m) => ({ default: m.KeysDialog })));

/** The way to everything: one field over all there is, by the icon, / or Ctrl+K; and the keys of the commonest acts. */
export function SearchGo() {
  const [open, setOpen] = useState<'search' | 'keys' | null>(null);
  useEffect(() => {
    noteVisit();
    const press = (e: KeyboardEvent) => {
      if (e.ctrlKey && e.key.toLowerCase() === 'k' && !e.altKey && !e.shiftKey) {
        e.preventDefault();
        setOpen('search');
        return;
      }
      if (e.ctrlKey || isTaken(e) || !areOn()) return;
      const shortcut = SHORTCUTS.find((s) => s.key === e.key);
      if (!shortcut) return;
      const study = studyAtHand();
      if (shortcut.to?.includes(':study') && study === null) return;
      e.preventDefault();
      if (shortcut.key === '/') setOpen('search');
      else if (shortcut.key === '?') setOpen('keys');
      else if (shortcut.to) window.location.assign(shortcut.to.replace(':study', study ?? ''));
      else
        [...document.querySelectorAll<HTMLButtonElement>('header button')].find((b) => b.textContent?.trim() === shortcut.press)?.click();
    };
    window.addEventListener('keydown', press);
    earlyKeys().forEach(press);
    return () => window.removeEventListener('keydown', press);
  }, []);
  return (
    <>
      <button
        type="button"
        className="grid h-9 w-9 place-items-center rounded-[2px] hover:bg-band"
        aria-label="Search and go"
        aria-keyshortcuts="Control+K"
        title="Search and go (/ or Ctrl+K)"
        onClick={() => setOpen('search')}
      >
        <Search size={18} aria-hidden="true" />
      </button>
      {open === 'search' && (
        <Suspense fallback={null}>
          <SearchDialog onClose={() => setOpen(null)} />
        </Suspense>
      )}
      {open === 'keys' && (
        <Suspense fallback={null}>
          <KeysDialog onClose={() => setOpen(null)} />
        </Suspense>
      )}
    </>
  );
}
