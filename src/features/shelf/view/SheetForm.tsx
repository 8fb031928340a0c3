import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { SECTIONS, type SectionKey, type SheetValues, type StoredSheet, sectionFields } from '#features/shelf/model/sections';
import type { SheetView } from '#features/shelf/server/sheets';
import type { FieldSpec } from '#rules/fields';
import { Alert, type Choices, Field, Options, Quiet, TextBox, Tick } from '#ui/Form.tsx';
import { send, sendJson } from '#ui/send';
import { offerUndo } from '#ui/undo';
import { fieldText } from './fieldText';

/** What an action on a sheet answers. */
interface Answered {
  id?: number;
  archived?: boolean;
  /** entry of the bin, where it was deleted */
  bin?: number | null;
}

interface SheetFormProps {
  section: SectionKey;
  /** null for a new sheet */
  sheet: StoredSheet | null;
  names: SheetView['names'];
  /** true where other sheets, plans or mounts name it, so that it can be archived only */
  named: boolean;
}

/** Text of a number field: empty is nothing said; a decimal comma is taken; anything else is told by the rule. */
function toNumber(text: unknown): number | null {
  if (text === null || text === undefined || text === '') return null;
  return typeof text === 'number' ? text : Number(String(text).trim().replace(',', '.').replace('−', '-'));
}

/** One sheet of the shelf to fill in, field by field as its class declares them. */
export function SheetForm({ section, sheet, names, named }: SheetFormProps) {
  const fields = sectionFields(section);
  const groups = [...new Set(fields.map((f) => f.group))];
  const { one } = SECTIONS[section];
  const [stored, setStored] = useState(sheet);
  const [name, setName] = useState(sheet?.name ?? '');
  const [told, setTold] = useState<string | null>(null);
  const [saved, setSaved] = useState(false);
  const [theirs, setTheirs] = useState<StoredSheet | null>(null);
  const { register, handleSubmit, formState, setValue } = useForm<SheetValues>({
    resolver: classValidatorResolver(SECTIONS[section].sheet as never) as never,
    defaultValues: sheet?.sheet ?? {},
  });
  const headers = { 'content-type': 'application/json' };

  const submit = handleSubmit(async (values) => {
    setSaved(false);
    const plain = Object.fromEntries(Object.entries(values).filter(([, v]) => v !== null && v !== undefined && v !== ''));
    if (!stored) {
      const made = await sendJson<{ id: number }>('POST', `/api/shelf/${section}`, { name, sheet: plain }, setTold);
      if (made) window.location.assign(`/shelf/${section}/${made.id}`);
      return;
    }
    const answer = await sendJson<StoredSheet>(
      'PUT',
      `/api/shelf/${section}/${stored.id}`,
      { name, sheet: plain, version: stored.version },
      setTold,
      (refusal) => {
        const other = refusal.theirs as StoredSheet | undefined;
        if (other) {
          setTheirs(other);
          setStored(other);
        }
      },
    );
    if (answer) {
      setStored(answer);
      setTheirs(null);
      setSaved(true);
    }
  });
  const act = (path: string, init: RequestInit, then: (answer: Answered) => void) => async () => {
    const answer = await send<Answered>(`/api/shelf/${section}/${stored?.id}${path}`, { headers, ...init }, setTold);
    if (answer) then(answer);
  };

  return (
    <form onSubmit={submit} noValidate className="flex flex-col gap-6">
      <TextBox label={`Name of the ${one}`} className="max-w-md text-name" value={name} maxLength={80} required onChange={setName} />
      {groups.map((group) => (
        <fieldset key={group} className="section-rule">
          <legend className="sr-only">{group}</legend>
          <p aria-hidden="true" className="mb-2 text-name font-semibold">
            {group}
          </p>
          <div className="grid gap-x-6 gap-y-3 sm:grid-cols-2 xl:grid-cols-3">
            {fields
              .filter((f) => f.group === group)
              .map((f) => (
                <div key={f.key} className={f.kind === 'long' ? 'sm:col-span-2 xl:col-span-3' : ''}>
                  <Field
                    label={f.unit ? `${f.label} / ${f.unit}` : f.label}
                    error={formState.errors[f.key]?.message as string | undefined}
                    hint={f.hint}
                  >
                    {(p) => (
                      <SheetInput {...p} field={f} register={register} setValue={setValue} initial={sheet?.sheet[f.key]} names={names} />
                    )}
                  </Field>
                  {theirs && fieldText(f, theirs.sheet[f.key]) !== fieldText(f, sheet?.sheet[f.key]) && (
                    <p className="border-l-4 border-ember pl-2 text-note">now stored: {fieldText(f, theirs.sheet[f.key]) || 'nothing'}</p>
                  )}
                </div>
              ))}
          </div>
        </fieldset>
      ))}
      <Alert className="">{told}</Alert>
      <div className="flex flex-wrap items-center gap-3">
        <button type="submit" className="act" disabled={formState.isSubmitting}>
          {stored ? 'Save' : `Put the ${one} on the shelf`}
        </button>
        {stored && (
          <>
            <Quiet onClick={act('/copy', { method: 'POST' }, (a) => window.location.assign(`/shelf/${section}/${a.id}`))}>Duplicate</Quiet>
            <Quiet
              onClick={act('/archived', { method: 'PUT', body: JSON.stringify({ archived: !stored.archived }) }, (a) =>
                setStored({ ...stored, archived: a.archived === true }),
              )}
            >
              {stored.archived ? 'Bring back from the archive' : 'Archive'}
            </Quiet>
            {!named && (
              <Quiet
                onClick={() => {
                  void act('', { method: 'DELETE' }, ({ bin }) => {
                    if (bin)
                      offerUndo({
                        words: `${stored.name} is in the bin.`,
                        ...{ method: 'POST', url: `/api/bin/${bin}`, body: {}, to: window.location.pathname },
                      });
                    window.location.assign(`/shelf/${section}`);
                  })();
                }}
              >
                Delete sheet
              </Quiet>
            )}
          </>
        )}
        <span aria-live="polite" className="text-soft">
          {saved ? 'Saved.' : stored?.archived ? 'Archived: kept for its history, not offered for new plans.' : ''}
        </span>
      </div>
    </form>
  );
}

interface SheetInputProps {
  field: FieldSpec;
  register: ReturnType<typeof useForm<SheetValues>>['register'];
  setValue: ReturnType<typeof useForm<SheetValues>>['setValue'];
  initial: SheetValues[string];
  names: SheetView['names'];
  id: string;
  'aria-invalid': boolean;
  'aria-describedby': string | undefined;
}

const empty = (text: unknown) => (text === '' || text === undefined ? null : text);

function SheetInput({ field, register, setValue, initial, names, ...p }: SheetInputProps) {
  const options = names[field.section as SectionKey] ?? [];
  const select = (none: string, choices: Choices<string | number>, setValueAs: (v: unknown) => unknown = empty) => (
    <select {...p} {...register(field.key, { setValueAs })} className="field w-full">
      <option value="">{none}</option>
      <Options choices={choices} />
    </select>
  );
  switch (field.kind) {
    case 'number':
    case 'whole':
      return <input {...p} {...register(field.key, { setValueAs: toNumber })} inputMode="decimal" className="field figure w-full" />;
    case 'long':
      return <textarea {...p} {...register(field.key, { setValueAs: empty })} rows={3} className="field w-full" />;
    case 'date':
      return <input {...p} {...register(field.key, { setValueAs: empty })} type="date" className="field figure w-full" />;
    case 'yesno':
      return select('not said', [['true', 'yes'] as const, ['false', 'no'] as const], (v) =>
        empty(v) === null ? null : String(v) === 'true',
      );
    case 'choice':
      return select('not said', Object.entries(field.choices ?? {}));
    case 'ref': {
      const offered = options.filter((o) => !o.archived || o.id === initial).map((o) => [o.id, o.name] as const);
      return select('none', offered, (v) => (empty(v) === null ? null : Number(v)));
    }
    case 'refs':
      return (
        <RefsInput
          {...p}
          field={field}
          options={options}
          initial={(initial as number[] | undefined) ?? []}
          onChange={(ids) => setValue(field.key, ids)}
        />
      );
    default:
      return <input {...p} {...register(field.key, { setValueAs: empty })} className="field w-full" />;
  }
}

function RefsInput({
  id,
  field,
  options,
  initial,
  onChange,
}: {
  id: string;
  field: FieldSpec;
  options: { id: number; name: string; archived: boolean }[];
  initial: number[];
  onChange: (ids: number[]) => void;
}) {
  const [chosen, setChosen] = useState(initial);
  if (options.length === 0) {
    return (
      <p id={id} className="text-soft">
        none on the <a href={`/shelf/${field.section}`}>shelf</a> yet
      </p>
    );
  }
  const toggle = (option: number, on: boolean) => {
    const next = on ? [...chosen, option] : chosen.filter((c) => c !== option);
    setChosen(next);
    onChange(next);
  };
  return (
    <fieldset id={id} aria-label={field.label} className="flex flex-wrap gap-x-4 gap-y-1">
      {options
        .filter((o) => !o.archived || chosen.includes(o.id))
        .map((o) => (
          <Tick key={o.id} words={o.name} checked={chosen.includes(o.id)} onChange={(on) => toggle(o.id, on)} />
        ))}
    </fieldset>
  );
}
