import { type ReactNode, useEffect, useRef, useState } from 'react';

interface Entry {
  id: string;
  words: string;
}

/** Headings of the page, as they stand in it. */
const headings = (): Entry[] =>
  [...document.querySelectorAll<HTMLHeadingElement>('main h2[id]')]
    .filter((h) => h.offsetParent !== null)
    .map((h) => ({ id: h.id, words: h.textContent ?? '' }));

/**
 * The parts of a long page, in a line that stays in sight; the one that is read is marked.
 * @param aside what else stays in sight, at the end of the line
 */
export function Contents({ aside }: { aside?: ReactNode }) {
  const [entries, setEntries] = useState<Entry[]>([]);
  const [current, setCurrent] = useState<string | null>(null);
  const bar = useRef<HTMLElement>(null);
  useEffect(() => {
    let asked = 0;
    const look = () => {
      cancelAnimationFrame(asked);
      asked = requestAnimationFrame(() => {
        const found = headings();
        setEntries((e) => (JSON.stringify(e) === JSON.stringify(found) ? e : found));
        const under = (bar.current?.offsetHeight ?? 0) + 24;
        const passed = found.filter(({ id }) => (document.getElementById(id)?.getBoundingClientRect().top ?? 1) < under);
        const isAtEnd = window.scrollY > 0 && window.innerHeight + window.scrollY >= document.body.scrollHeight - 2;
        setCurrent((isAtEnd ? found.at(-1) : passed.at(-1))?.id ?? null);
      });
    };
    const main = document.querySelector('main');
    const watch = new MutationObserver(look);
    if (main) watch.observe(main, { childList: true, subtree: true });
    window.addEventListener('scroll', look, { passive: true });
    look();
    return () => {
      watch.disconnect();
      cancelAnimationFrame(asked);
      window.removeEventListener('scroll', look);
    };
  }, []);
  // the one that is read stays in sight on a narrow screen
  // biome-ignore lint/correctness/useExhaustiveDependencies: whenever another one is read
  useEffect(() => {
    const link = bar.current?.querySelector<HTMLElement>('[aria-current]');
    if (link && bar.current) bar.current.scrollLeft = link.offsetLeft - 16;
  }, [current]);
  return (
    <div className="sticky top-0 z-20 -mx-4 mt-3 flex min-h-10 flex-wrap items-center justify-between border-y border-rule bg-paper px-4 text-note whitespace-nowrap sm:-mx-9 sm:px-9 print:hidden">
      <nav
        ref={bar}
        aria-label="On this page"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls sideways on a narrow screen
        tabIndex={0}
        className="relative flex min-w-0 gap-1 overflow-x-auto py-1"
      >
        {entries.map((e) => (
          <a
            key={e.id}
            href={`#${e.id}`}
            aria-current={e.id === current ? 'location' : undefined}
            className={`px-2 py-1.5 no-underline first:pl-0 hover:bg-band ${e.id === current ? 'font-semibold underline decoration-2 underline-offset-4' : ''}`}
          >
            {e.words}
          </a>
        ))}
      </nav>
      {aside && <div className="flex items-center">{aside}</div>}
    </div>
  );
}
