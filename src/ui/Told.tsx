import type { ReactNode } from 'react';
import { Figure } from './Figure.tsx';

interface ToldProps {
  name: ReactNode;
  /** null where it is not known */
  value: string | null;
  unit: string;
  note?: ReactNode;
  testId?: string;
}

/** One figure of a list of them, with its name above and what to know of it below. */
export const Told = ({ name, value, unit, note, testId }: ToldProps) => (
  <div>
    <dt className={note === undefined ? 'text-soft' : 'font-semibold'}>{name}</dt>
    <dd data-testid={testId}>
      {value === null ? <span className="text-soft">not known</span> : <Figure value={value} unit={unit} size="name" />}
      {note && <span className="block text-note text-soft">{note}</span>}
    </dd>
  </div>
);
