import { lazy, Suspense, useState } from 'react';
import { MenuButton } from './MenuButton.tsx';
import type { StudyMenuProps } from './StudyMenuItems.tsx';

// the menu with its forms is fetched when it is wanted, so that every page of a study stays light
const StudyMenuItems = lazy(() => import('./StudyMenuItems.tsx').then((m) => ({ default: m.StudyMenuItems })));

/** What can be done with a study as a whole, behind one button. */
export function StudyMenu(props: StudyMenuProps) {
  const [wanted, setWanted] = useState(false);
  const button = <MenuButton title={props.title} onClick={() => setWanted(true)} />;
  if (!wanted) return button;
  return (
    <Suspense fallback={button}>
      <StudyMenuItems {...props} />
    </Suspense>
  );
}
