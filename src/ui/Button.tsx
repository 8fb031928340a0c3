import type { ComponentProps } from 'react';

type ButtonProps = Omit<ComponentProps<'button'>, 'type'>;

const styled =
  (style: string) =>
  ({ className, ...rest }: ButtonProps) => <button type="button" {...rest} className={className ? `${style} ${className}` : style} />;

/** The one thing to do here. */
export const Act = styled('act');
/** What else can be done. */
export const Quiet = styled('quiet');
/** An action that reads as a part of the text. */
export const TextButton = styled('underline');
