import { ChevronRight } from 'lucide-react';
import { type ReactNode, useEffect, useRef, useState } from 'react';

interface PlanSectionProps {
  /** its address on the page, such as #loads */
  id: string;
  title: string;
  /** what it says, in one line */
  state: ReactNode;
  /** open from the start, where nothing can be done without it */
  open?: boolean;
  children: ReactNode;
}

/** A part of the plan that tells its state in one line and opens in place; its address opens it too. */
export function PlanSection({ id, title, state, open = false, children }: PlanSectionProps) {
  const [isOpen, setOpen] = useState(open);
  // what was open keeps what was typed in it
  const [wasOpen, setWasOpen] = useState(open);
  const box = useRef<HTMLDetailsElement>(null);
  useEffect(() => {
    const follow = () => {
      const there = box.current?.contains(document.getElementById(window.location.hash.slice(1)));
      if (!there) return;
      setOpen(true);
      setWasOpen(true);
      requestAnimationFrame(() => box.current?.scrollIntoView({ block: 'start' }));
    };
    follow();
    window.addEventListener('hashchange', follow);
    return () => window.removeEventListener('hashchange', follow);
  }, []);
  const toggle = (now: boolean) => {
    if (now === isOpen) return;
    setOpen(now);
    setWasOpen(wasOpen || now);
    const { pathname, search, hash } = window.location;
    if (now) window.history.replaceState(null, '', `#${id}`);
    else if (hash === `#${id}`) window.history.replaceState(null, '', pathname + search);
  };
  return (
    <details
      ref={box}
      id={id}
      open={isOpen}
      onToggle={(e) => toggle(e.currentTarget.open)}
      className="group scroll-mt-14 border-t border-rule"
    >
      <summary className="grid cursor-pointer grid-cols-[1.25rem_minmax(0,1fr)] items-baseline gap-x-1 py-2.5 hover:bg-band sm:grid-cols-[1.25rem_13rem_minmax(0,1fr)]">
        <ChevronRight size={16} aria-hidden="true" className="self-center transition-transform group-open:rotate-90" />
        <h3 className="font-semibold">{title}</h3>
        <span className="text-soft max-sm:col-start-2 max-sm:text-note">{state}</span>
      </summary>
      {wasOpen && <div className="pt-2 pb-5 sm:pl-6">{children}</div>}
    </details>
  );
}
