import type { ReactNode } from 'react';

/** What may be wider than the page, such as a table: it scrolls by itself, and is reached by the keyboard. */
export const Scroll = ({ label, className = '', children }: { label: string; className?: string; children: ReactNode }) => (
  // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
  <section className={`overflow-x-auto ${className}`} tabIndex={0} aria-label={label}>
    {children}
  </section>
);
