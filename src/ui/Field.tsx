import { type ReactNode, useId } from 'react';

interface FieldProps {
  label: string;
  error?: string;
  hint?: string;
  children: (props: { id: string; 'aria-invalid': boolean; 'aria-describedby': string | undefined }) => ReactNode;
}

/** A labelled field with its hint and, where a rule is broken, the sentence that says so. */
export function Field({ label, error, hint, children }: FieldProps) {
  const id = useId();
  const note = error ?? hint;
  return (
    <div>
      <label htmlFor={id} className="block font-semibold">
        {label}
      </label>
      {children({ id, 'aria-invalid': Boolean(error), 'aria-describedby': note ? `${id}-note` : undefined })}
      {note && (
        <p
          id={`${id}-note`}
          role={error ? 'alert' : undefined}
          className={`text-note ${error ? 'mt-1 font-semibold text-ember' : 'text-soft'}`}
        >
          {note}
        </p>
      )}
    </div>
  );
}
