import type { ComponentProps } from 'react';
import { Field } from './Field.tsx';

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
