import { X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';

interface SheetProps {
  title: string;
  /** what closing does, for those who do not see it */
  closeLabel: string;
  actions?: ReactNode;
  notice: string | null;
  onClose: () => void;
  children: ReactNode;
}

/** A sheet over the whole page with its title, its actions and the way back. */
export const Sheet = ({ title, closeLabel, actions, notice, onClose, children }: SheetProps) => (
  <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onClose()}>
    <Dialog.Portal>
      <Dialog.Content
        aria-describedby={undefined}
        onOpenAutoFocus={(e) => {
          e.preventDefault();
          (e.target as HTMLElement | null)?.focus();
        }}
        tabIndex={-1}
        onPointerDownOutside={(e) => e.preventDefault()}
        className="fixed inset-0 z-50 flex flex-col overflow-y-auto bg-paper focus:outline-none"
      >
        <div className="sticky top-0 z-10 flex items-center gap-4 border-b-[3px] border-ink bg-paper px-4 py-2 sm:px-9">
          <Dialog.Title className="min-w-0 truncate text-name font-semibold sm:text-title">{title}</Dialog.Title>
          <span className="ml-auto" />
          {actions}
          <Dialog.Close className="quiet inline-flex items-center gap-1" aria-label={closeLabel}>
            <X size={16} aria-hidden="true" /> <span className="max-sm:sr-only">Close</span>
          </Dialog.Close>
        </div>
        {notice && (
          <p role="alert" className="px-9 pt-3 font-semibold text-ember">
            {notice}
          </p>
        )}
        {children}
      </Dialog.Content>
    </Dialog.Portal>
  </Dialog.Root>
);
