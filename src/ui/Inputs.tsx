import { Field } from './Field.tsx';

interface NumberBoxProps {
  label: string;
  value: string;
  onChange: (text: string) => void;
  min: number;
  max: number;
  hint?: string;
}

/** What a number box holds; null where it is no number or out of its range. */
export function within(text: string, min: number, max: number): number | null {
  const number = text.trim() === '' ? Number.NaN : Number(text.trim().replace(',', '.'));
  return number >= min && number <= max ? number : null;
}

/** A number of a tool, with its range told where it is left. */
export function NumberBox({ label, value, onChange, min, max, hint }: NumberBoxProps) {
  return (
    <Field label={label} hint={hint} error={within(value, min, max) === null ? `A number from ${min} to ${max}.` : undefined}>
      {(p) => <input {...p} className="field figure w-full" inputMode="decimal" value={value} onChange={(e) => onChange(e.target.value)} />}
    </Field>
  );
}

interface ChoiceBoxProps {
  label: string;
  value: string;
  choices: [string, string][];
  onChange: (key: string) => void;
  hint?: string;
}

export function ChoiceBox({ label, value, choices, onChange, hint }: ChoiceBoxProps) {
  return (
    <Field label={label} hint={hint}>
      {(p) => (
        <select {...p} className="field w-full" value={value} onChange={(e) => onChange(e.target.value)}>
          {choices.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}
