import { useEffect, useState } from 'react';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import type { SpecimenPlan } from '#features/study/model/specimenPlan';
import type { PlanKey } from '#features/study/model/studyPlan';
import type { FieldSpec } from '#rules/fields';
import { type Choices, Field, Options, TextButton } from '#ui/Form.tsx';
import { fieldName } from './fieldName';
import type { PlanDesk } from './usePlan';

interface PlanFieldProps {
  desk: PlanDesk;
  field: PlanKey;
  /** what counts while nothing is said, shown greyed in the field */
  otherwise?: string;
  label?: string;
  hint?: string | null;
  /** where it is in another than the field's own */
  unit?: string;
  choices?: Record<string, string>;
}

/** One field of the plan: computed with as it is typed, stored soon after. */
export function PlanField({ desk, field, otherwise, label, hint, unit, choices }: PlanFieldProps) {
  const spec = desk.fields.plan.find((f) => f.key === field) as FieldSpec;
  const words = label ?? spec.label;
  const fallback = otherwise ?? String((PLAN_DEFAULTS as Record<string, unknown>)[field] ?? '');
  return (
    <div>
      <Field
        label={(unit ?? spec.unit) ? `${words} / ${unit ?? spec.unit}` : words}
        error={desk.errors[field]}
        hint={hint === null ? undefined : (hint ?? spec.hint)}
      >
        {(p) => (
          <PlanInput
            {...p}
            desk={desk}
            field={field}
            spec={choices ? { ...spec, choices, kind: 'choice' } : spec}
            value={desk.typed(field) as never}
            otherwise={fallback}
          />
        )}
      </Field>
      <Conflict desk={desk} field={field} />
    </div>
  );
}

/** A field of one specimen, without a label of its own: it stands in a table under its heading. */
export function SpecimenField({
  desk,
  specimen,
  field,
  otherwise,
}: {
  desk: PlanDesk;
  specimen: number;
  field: keyof SpecimenPlan;
  otherwise?: string;
}) {
  const key = `specimen:${specimen}:${field}`;
  const spec = desk.fields.specimen.find((f) => f.key === field) as FieldSpec;
  const error = desk.errors[key];
  const value = desk.context.specimens.find((s) => s.id === specimen)?.plan[field];
  return (
    <>
      <PlanInput
        id={key}
        aria-label={fieldName(key, desk.context, desk.fields)}
        aria-invalid={Boolean(error)}
        aria-describedby={error ? `${key}-note` : undefined}
        desk={desk}
        field={key}
        spec={spec}
        value={value as never}
        otherwise={otherwise ?? ''}
      />
      {error && (
        <p id={`${key}-note`} role="alert" className="text-note font-semibold text-ember">
          {error}
        </p>
      )}
      <Conflict desk={desk} field={key} />
    </>
  );
}

/** Shown where somebody else changed the field that is being changed here. */
export function Conflict({ desk, field }: { desk: PlanDesk; field: string }) {
  if (!(field in desk.conflicts)) return null;
  const theirs = desk.conflicts[field];
  const text = theirs === null || theirs === undefined ? 'nothing' : typeof theirs === 'object' ? 'another list' : String(theirs);
  return (
    <div role="alert" className="mt-1 border-l-4 border-ember pl-2 text-note">
      Somebody else wrote {text} here meanwhile. Yours is not stored yet.{' '}
      <TextButton onClick={() => desk.takeTheirs(field)}>Take theirs</TextButton>{' '}
      <TextButton onClick={() => desk.keepMine(field)}>Store mine</TextButton>
    </div>
  );
}

interface PlanInputProps {
  id: string;
  'aria-invalid': boolean;
  'aria-describedby': string | undefined;
  'aria-label'?: string;
  desk: PlanDesk;
  field: string;
  spec: FieldSpec;
  value: string | number | boolean | null | undefined;
  otherwise: string;
}

function PlanInput({ desk, field, spec, value, otherwise, ...p }: PlanInputProps) {
  const plain = { ...p, desk, field, otherwise };
  const select = (none: string, choices: Choices, shown: string, read: (key: string) => unknown) => (
    <select
      {...p}
      className="field w-full"
      value={shown}
      onChange={(e) => desk.set(field, e.target.value === '' ? null : read(e.target.value))}
    >
      <option value="">{none}</option>
      <Options choices={choices} />
    </select>
  );
  switch (spec.kind) {
    case 'number':
    case 'whole':
      return <OwnInput {...plain} className="figure" inputMode="decimal" value={value == null ? '' : String(value)} store={storeNumber} />;
    case 'choice': {
      const first = spec.choices?.[otherwise];
      const others = Object.entries(spec.choices ?? {}).filter(([key]) => key !== otherwise);
      const said = value === otherwise && first ? [[otherwise, first] as const] : [];
      return select(first ?? 'not said', [...others, ...said], String(value ?? ''), (key) => key);
    }
    case 'yesno':
      return select(otherwise || 'not said', ['yes', 'no'], value == null ? '' : value ? 'yes' : 'no', (key) => key === 'yes');
    case 'date':
      return (
        <input
          {...p}
          type="date"
          className="field figure w-full"
          value={String(value ?? '')}
          onChange={(e) => desk.set(field, e.target.value || null)}
        />
      );
    case 'long':
      return (
        <textarea
          {...p}
          rows={2}
          className="field w-full"
          value={String(value ?? '')}
          placeholder={otherwise}
          onChange={(e) => desk.set(field, e.target.value)}
        />
      );
    default:
      return <OwnInput {...plain} value={String(value ?? '')} store={(text) => desk.set(field, text)} />;
  }
}

/** Stores a number as it is typed, with a decimal comma too; what is none is refused with its sentence. */
function storeNumber(text: string, desk: PlanDesk, field: string) {
  const plain = text.trim().replace(',', '.').replace('−', '-');
  if (plain !== '' && !Number.isFinite(Number(plain))) desk.refuse(field, `"${text}" is not a number.`);
  else desk.set(field, plain === '' ? null : Number(plain));
}

interface OwnInputProps extends Omit<PlanInputProps, 'spec' | 'value'> {
  value: string;
  store: (text: string, desk: PlanDesk, field: string) => void;
  inputMode?: 'decimal';
  className?: string;
}

/** A line that keeps its own text while somebody types in it, or while what was typed is refused; else it shows what others write. */
function OwnInput({ desk, field, value, store, otherwise, className = '', ...p }: OwnInputProps) {
  const [text, setText] = useState(value);
  const [own, setOwn] = useState(false);
  useEffect(() => {
    if (!own) setText(value);
  }, [value, own]);
  return (
    <input
      {...p}
      className={`field w-full ${className}`}
      value={text}
      placeholder={otherwise}
      onFocus={() => setOwn(true)}
      onBlur={() => setOwn(Boolean(desk.errors[field] || field in desk.conflicts))}
      onChange={(e) => {
        setText(e.target.value);
        store(e.target.value, desk, field);
      }}
    />
  );
}
