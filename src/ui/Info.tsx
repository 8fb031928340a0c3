import { lazy, Suspense, useState } from 'react';
import type { TermKey } from './glossary';
import { InfoButton } from './InfoButton.tsx';

// the lines of all terms are fetched when one is asked for, so that every page stays light
const InfoPanel = lazy(() => import('./InfoPanel.tsx').then((m) => ({ default: m.InfoPanel })));

/** A small ⓘ beside a term: its one line, and the way to the help. */
export function Info({ term }: { term: TermKey }) {
  const [wanted, setWanted] = useState(false);
  const button = <InfoButton term={term} onClick={() => setWanted(true)} />;
  if (!wanted) return button;
  return (
    <Suspense fallback={button}>
      <InfoPanel term={term} />
    </Suspense>
  );
}
