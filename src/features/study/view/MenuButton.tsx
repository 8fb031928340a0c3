import { MoreHorizontal } from 'lucide-react';
import type { ComponentProps } from 'react';

/** The button of what else can be done with a study. */
export const MenuButton = ({ title, ...rest }: ComponentProps<'button'> & { title: string }) => (
  <button
    type="button"
    aria-haspopup="menu"
    {...rest}
    className="grid size-8 place-items-center rounded-[2px] hover:bg-band"
    aria-label={`More about ${title}`}
  >
    <MoreHorizontal size={18} aria-hidden="true" />
  </button>
);
