import type { ReactNode } from 'react';

/** A sentence about what is wrong, told also to those who do not see it; nothing where there is none. */
export function Alert({ children, className = 'mt-2' }: { children: ReactNode; className?: string }) {
  if (!children) return null;
  return (
    <p role="alert" className={`border-l-4 border-ember pl-3 ${className}`}>
      {children}
    </p>
  );
}
