import { useEffect, useState } from 'react';
import type { SettingsView } from '#features/bench/server/settings';
import type { FieldSpec } from '#rules/fields';
import { Act, Alert, Field, Options, Quiet } from '#ui/Form.tsx';
import { READING_KEY, type ReadingSettings, writeMoment } from '#ui/moments';
import { sendJson } from '#ui/send';
import { useSeen } from '#ui/useSeen';

type Values = Record<string, string>;

/** Settings of the lab, and what this browser has otherwise. */
export function SettingsPlace({ view }: { view: SettingsView }) {
  const [values, setValues] = useState<Values>(() =>
    Object.fromEntries(Object.entries(view.given).map(([k, v]) => [k, typeof v === 'boolean' ? (v ? 'yes' : 'no') : String(v ?? '')])),
  );
  const [told, setTold] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [saved, setSaved] = useState(false);
  const { seen, refused: noteTheirs } = useSeen(view.given);
  const save = async () => {
    setSaved(false);
    const refused: { field?: unknown } = {};
    const given = Object.fromEntries(view.fields.map((f) => [f.key, read(f, values[f.key] ?? '')]));
    const done = await sendJson('PUT', '/api/settings', { ...given, seen: seen() }, setTold, (b) => {
      Object.assign(refused, b);
      noteTheirs(b);
    });
    setWrong(done ? null : String(refused.field ?? ''));
    setSaved(done !== null);
    if (done) setTimeout(() => window.location.reload(), 600);
  };
  const groups = [...new Set(view.fields.map((f) => f.group))];
  return (
    <>
      <form
        className="mt-2"
        aria-label="Settings of the lab"
        onSubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        {groups.map((group) => (
          <fieldset key={group} className="section-rule mt-6">
            <legend className="sr-only">{group}</legend>
            <h2 className="mb-3 text-name font-semibold">{group === 'Reading' ? 'Dates, times and sound' : group}</h2>
            <div className="grid max-w-4xl gap-x-6 gap-y-4 sm:grid-cols-2">
              {view.fields
                .filter((f) => f.group === group)
                .map((f) => (
                  <SettingField
                    key={f.key}
                    spec={f}
                    value={values[f.key] ?? ''}
                    fallback={(view.defaults as Record<string, unknown>)[f.key]}
                    error={wrong === f.key ? (told ?? undefined) : undefined}
                    onChange={(text) => setValues((v) => ({ ...v, [f.key]: text }))}
                  />
                ))}
            </div>
          </fieldset>
        ))}
        {wrong === '' && <Alert className="mt-4">{told}</Alert>}
        <div className="mt-5 flex items-center gap-4">
          <button type="submit" className="act">
            Save settings
          </button>
          <span role="status" className="text-soft">
            {saved && 'Saved for the lab.'}
          </span>
        </div>
      </form>
      <OwnReading fields={view.fields.filter((f) => f.group === 'Reading')} />
    </>
  );
}

interface SettingFieldProps {
  spec: FieldSpec;
  value: string;
  fallback: unknown;
  error?: string;
  /** what an empty choice means */
  none?: string;
  onChange: (text: string) => void;
}

function SettingField({ spec, value, fallback, error, none, onChange }: SettingFieldProps) {
  const choices = spec.kind === 'yesno' ? { yes: 'On', no: 'Off' } : spec.choices;
  const standard =
    fallback === null
      ? 'never'
      : typeof fallback === 'boolean'
        ? fallback
          ? 'On'
          : 'Off'
        : (choices?.[String(fallback) as never] ?? String(fallback ?? ''));
  return (
    <Field label={spec.unit ? `${spec.label} / ${spec.unit}` : spec.label} hint={spec.hint} error={error}>
      {(p) =>
        choices ? (
          <select {...p} className="field w-full" value={value} onChange={(e) => onChange(e.target.value)}>
            <option value="">{none ?? `${standard} (default)`}</option>
            <Options choices={Object.entries(choices)} />
          </select>
        ) : (
          <input
            {...p}
            className={`field w-full ${spec.kind === 'text' ? '' : 'figure'}`}
            inputMode={spec.kind === 'text' ? undefined : 'decimal'}
            maxLength={60}
            value={value}
            placeholder={none ?? standard}
            onChange={(e) => onChange(e.target.value)}
          />
        )
      }
    </Field>
  );
}

/** What this browser shows otherwise than the lab. */
function OwnReading({ fields }: { fields: FieldSpec[] }) {
  const [own, setOwn] = useState<Values>({});
  const [example, setExample] = useState('');
  useEffect(() => {
    setOwn(JSON.parse(localStorage.getItem(READING_KEY) ?? '{}'));
    setExample(writeMoment(new Date()));
  }, []);
  const store = (next: Values) => {
    localStorage.setItem(READING_KEY, JSON.stringify(next satisfies ReadingSettings));
    window.location.reload();
  };
  return (
    <section className="section-rule mt-10" aria-labelledby="own">
      <h2 id="own" className="text-name font-semibold">
        On this browser
      </h2>
      <p className="mt-1 mb-3 text-soft">
        What you set here counts in this browser only, before the settings of the lab. Now reads {example}.
      </p>
      <div className="grid max-w-4xl gap-x-6 gap-y-4 sm:grid-cols-2">
        {fields.map((f) => (
          <SettingField
            key={f.key}
            spec={f}
            value={own[f.key] ?? ''}
            fallback=""
            none="as the lab"
            onChange={(text) => setOwn((v) => ({ ...v, [f.key]: text }))}
          />
        ))}
      </div>
      <div className="mt-4 flex gap-3">
        <Act onClick={() => store(Object.fromEntries(Object.entries(own).filter(([, v]) => v !== '')))}>Save for this browser</Act>
        <Quiet onClick={() => store({})}>Use the settings of the lab</Quiet>
      </div>
    </section>
  );
}

/** A setting as it is sent: empty is as it comes; a decimal comma is read too. */
function read(spec: FieldSpec, text: string): unknown {
  const plain = text.trim();
  if (plain === '') return null;
  if (spec.kind === 'yesno') return plain === 'yes';
  if (spec.kind !== 'number' && spec.kind !== 'whole') return plain;
  const number = Number(plain.replace(',', '.'));
  return Number.isFinite(number) ? number : plain;
}
