import type { ComponentProps, ReactNode } from 'react';

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
