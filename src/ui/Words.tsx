import type { ComponentProps, ReactNode } from 'react';
import { keepUnits } from '#core/text/words';
import { type Checked, checkedAddress } from './checked';

interface SectionProps extends Omit<ComponentProps<'section'>, 'title'> {
  /** of the heading, unique on its page */
  id: string;
  title: ReactNode;
  /** how the heading looks */
  heading?: string;
}

/** A part of a place under a rule, with its heading. */
export const Section = ({ id, title, heading = 'text-name', className = '', children, ...rest }: SectionProps) => (
  <section className={`section-rule ${className}`} aria-labelledby={id} {...rest}>
    <h2 id={id} className={`${heading} font-semibold`}>
      {title}
    </h2>
    {children}
  </section>
);

/** Sentences below each other. */
export const Sentences = ({ list, className = '' }: { list: string[]; className?: string }) => (
  <ul className={className}>
    {list.map((s) => (
      <li key={s} className="border-b border-rule py-1.5">
        {keepUnits(s)}
      </li>
    ))}
  </ul>
);

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

/** Leads from what is claimed to how often it held where the truth was known. */
export function CheckedLink({ subject }: { subject: Checked }) {
  return (
    <a href={checkedAddress(subject)} className="text-note whitespace-nowrap underline">
      How often this holds
    </a>
  );
}

export interface Fact {
  name: ReactNode;
  /** null where there is none */
  value: string | null;
  unit?: string;
  /** said where there is no value */
  none?: string;
}

/** What is known of a thing: each with its value and unit. */
export const Facts = ({ facts, className = '' }: { facts: Fact[]; className?: string }) => (
  <dl className={className}>
    {facts.map(({ name, value, unit = '', none = 'none' }, i) => (
      // biome-ignore lint/suspicious/noArrayIndexKey: facts never move
      <div key={i} className="flex items-baseline justify-between border-b border-rule py-1.5">
        <dt>{name}</dt>
        <dd>{value === null ? <span className="text-soft">{none}</span> : <Figure value={value} unit={unit} />}</dd>
      </div>
    ))}
  </dl>
);

const SIZES = { text: 'text-base', name: 'text-name', title: 'text-title', large: 'text-figure leading-none tracking-tight' };

/**
 * A figure with its unit: digits of even width, the unit smaller beside them. The figure face is for tables; its wide point looks lost at
 * large sizes.
 */
export const Figure = ({ value, unit, size = 'text' }: { value: string; unit: string; size?: 'text' | 'name' | 'title' | 'large' }) => (
  <span className={`whitespace-nowrap ${SIZES[size]}`}>
    <span className={`font-semibold ${size === 'text' ? 'figure' : 'tabular-nums'}`}>{value}</span>
    <span className="ml-[0.1em] text-[0.75em]">
      {'\u202f'}
      {unit}
    </span>
  </span>
);
