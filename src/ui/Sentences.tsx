import { keepUnits } from '#core/text/keepUnits';

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
