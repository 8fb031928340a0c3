import { RECORDS } from '#features/mount/model/attempt';
import type { RecordKey } from '#features/mount/model/stepTypes';
import { Field, Options } from '#ui/Form.tsx';

interface RecordBoxProps {
  name: RecordKey;
  value: string;
  hint?: string;
  /** a sentence about what was typed, which is stored all the same */
  warning?: string;
  onChange: (value: string) => void;
  onLeave: () => void;
}

/** One thing to write down at a step. */
export function RecordBox({ name, value, hint, warning, onChange, onLeave }: RecordBoxProps) {
  const field = RECORDS[name];
  return (
    <Field label={field.unit ? `${field.label} / ${field.unit}` : field.label} hint={hint} error={warning}>
      {(p) =>
        field.choices ? (
          <select
            {...p}
            className="field min-h-12 w-full text-name"
            value={value}
            onChange={(e) => onChange(e.target.value)}
            onBlur={onLeave}
          >
            <option value="">not told</option>
            <Options choices={Object.entries(field.choices)} />
          </select>
        ) : field.most ? (
          <textarea
            {...p}
            className="field figure w-full"
            rows={4}
            spellCheck={false}
            value={value}
            onChange={(e) => onChange(e.target.value)}
            onBlur={onLeave}
          />
        ) : (
          <input
            {...p}
            className={`field min-h-12 w-full text-name ${field.kind === 'number' ? 'figure' : ''}`}
            inputMode={field.kind === 'number' ? 'decimal' : undefined}
            value={value}
            onChange={(e) => onChange(e.target.value)}
            onBlur={onLeave}
          />
        )
      }
    </Field>
  );
}
