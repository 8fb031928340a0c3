import type { ReactNode } from 'react';

interface TickProps {
  words: ReactNode;
  checked: boolean;
  onChange: (on: boolean) => void;
  /** name of the group of which one is chosen; without it each is ticked by itself */
  name?: string;
  /** large enough for a gloved finger at the bench */
  hand?: boolean;
  className?: string;
  disabled?: boolean;
}

/** A box to tick, or one of several to choose, with its words beside it. */
export const Tick = ({ words, onChange, name, hand = false, className = '', ...rest }: TickProps) => (
  <label className={`flex items-center ${hand ? 'min-h-11 gap-3' : 'min-h-8 gap-2'} ${className}`}>
    <input
      {...rest}
      type={name ? 'radio' : 'checkbox'}
      name={name}
      className={hand ? 'size-5 shrink-0' : ''}
      onChange={(e) => onChange(e.target.checked)}
    />
    {words}
  </label>
);
