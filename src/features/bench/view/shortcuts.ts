/** A key that does something; those of one letter can be turned off, as a voice or a screen reader may say them. */
export interface Shortcut {
  /** as it is pressed */
  key: string;
  words: string;
  /** page to go to; what stands in :study is the study at hand */
  to?: string;
  /** button of the header to press, by its name */
  press?: string;
}

/** The acts that come most often. */
export const SHORTCUTS: Shortcut[] = [
  { key: '/', words: 'Search and go (also Ctrl+K)' },
  { key: '?', words: 'Show these keys' },
  { key: 'a', words: 'Add logs', press: 'Add a log' },
  { key: 'e', words: 'Enter readings', press: 'Enter readings' },
  { key: 'b', words: 'Bench', to: '/' },
  { key: 's', words: 'Studies', to: '/studies' },
  { key: 'p', words: 'Plan of this study', to: '/studies/:study/plan' },
  { key: 'm', words: 'Mounts of this study', to: '/studies/:study/mounts' },
  { key: 'u', words: 'Runs of this study', to: '/studies/:study/runs' },
  { key: 'v', words: 'Verdicts of this study', to: '/studies/:study/results' },
  { key: 'w', words: 'Written report of this study', to: '/studies/:study/report' },
];

const OFF = 'shortcuts-off';

export const areOn = (): boolean => localStorage.getItem(OFF) === null;
export function turn(on: boolean): void {
  if (on) localStorage.removeItem(OFF);
  else localStorage.setItem(OFF, '1');
}

/** True where a key belongs to what is being typed, or to an open dialog or menu. */
export const isTaken = (e: KeyboardEvent): boolean =>
  e.defaultPrevented ||
  e.altKey ||
  e.metaKey ||
  (e.target instanceof Element &&
    e.target.closest('input,textarea,select,[contenteditable],[role=dialog],[role=menu],[role=listbox]') !== null);

declare global {
  interface Window {
    /** what was pressed before the page was alive, by `public/first.js` */
    earlyKeys?: KeyboardEvent[];
    noteEarlyKey?: (e: KeyboardEvent) => void;
  }
}

/** What was pressed before the page was alive; from now on nothing is noted. */
export function earlyKeys(): KeyboardEvent[] {
  if (window.noteEarlyKey) window.removeEventListener('keydown', window.noteEarlyKey);
  return window.earlyKeys?.splice(0) ?? [];
}

/** The study of the page: its own, or the one that its links lead to. */
export function studyAtHand(): string | null {
  const own = /^\/studies\/(\d+)/.exec(window.location.pathname)?.[1];
  const linked = document.querySelector('nav[aria-label="This study"] a, main a[href^="/studies/"]')?.getAttribute('href') ?? '';
  return own ?? /^\/studies\/(\d+)/.exec(linked)?.[1] ?? null;
}
