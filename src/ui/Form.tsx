import { type ComponentProps, type ReactNode, useId } from 'react';

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

/** A sentence about what is wrong, told also to those who do not see it; nothing where there is none. */
export function Alert({ children, className = 'mt-2' }: { children: ReactNode; className?: string }) {
  if (!children) return null;
  return (
    <p role="alert" className={`border-l-4 border-ember pl-3 ${className}`}>
      {children}
    </p>
  );
}

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

/** What a number box holds; null where it is no number or out of its range. */
export function numberWithin(text: string, min: number, max: number): number | null {
  const number = text.trim() === '' ? Number.NaN : Number(text.trim().replace(',', '.'));
  return number >= min && number <= max ? number : null;
}

interface BoxProps {
  label: string;
  hint?: string;
  /** the sentence that says which rule is broken */
  error?: string;
}

interface TextBoxProps extends BoxProps, Omit<ComponentProps<'input'>, 'onChange'> {
  value: string;
  onChange: (text: string) => void;
}

/** A line of text. */
export const TextBox = ({ label, hint, error, onChange, className = '', ...rest }: TextBoxProps) => (
  <Field label={label} hint={hint} error={error}>
    {(p) => <input {...p} {...rest} className={`field w-full ${className}`} onChange={(e) => onChange(e.target.value)} />}
  </Field>
);

interface TextAreaProps extends BoxProps, Omit<ComponentProps<'textarea'>, 'onChange'> {
  value: string;
  onChange: (text: string) => void;
}

/** Several lines of text. */
export const TextArea = ({ label, hint, error, onChange, className = '', ...rest }: TextAreaProps) => (
  <Field label={label} hint={hint} error={error}>
    {(p) => <textarea {...p} {...rest} className={`field w-full ${className}`} onChange={(e) => onChange(e.target.value)} />}
  </Field>
);

/** A number of a tool, with its range told where it is left. */
export function NumberBox({
  min,
  max,
  value,
  ...rest
}: BoxProps & { value: string; onChange: (text: string) => void; min: number; max: number }) {
  const error = numberWithin(value, min, max) === null ? `A number from ${min} to ${max}.` : undefined;
  return <TextBox {...rest} value={value} error={error} className="figure" inputMode="decimal" />;
}

export type Choices<Key extends string | number = string> = readonly (Key | readonly [key: Key, words: string])[];

interface ChoiceBoxProps<Key extends string> extends BoxProps {
  value: Key;
  /** keys with their words, or words that are their own keys */
  choices: Choices<Key>;
  onChange: (key: Key) => void;
  className?: string;
}

/** One of several. */
export const ChoiceBox = <Key extends string>({ label, hint, error, value, choices, onChange, className = '' }: ChoiceBoxProps<Key>) => (
  <Field label={label} hint={hint} error={error}>
    {(p) => (
      <select {...p} className={`field w-full ${className}`} value={value} onChange={(e) => onChange(e.target.value as Key)}>
        <Options choices={choices} />
      </select>
    )}
  </Field>
);

/** The choices of a select. */
export const Options = ({ choices }: { choices: Choices<string | number> }) =>
  choices.map((choice) => {
    const [key, words] = typeof choice === 'object' ? choice : [choice, choice];
    return (
      <option key={key} value={key}>
        {words}
      </option>
    );
  });

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
