import type { SheetValues } from '#features/shelf/model/sections';
import type { FieldSpec } from '#rules/fields';

/** A field's value as a person reads it, without its unit; empty where nothing is said. */
export function fieldText(field: FieldSpec, value: SheetValues[string]): string {
  if (value === null || value === undefined) return '';
  if (field.kind === 'yesno') return value ? 'yes' : 'no';
  if (field.kind === 'choice') return field.choices?.[String(value)] ?? String(value);
  return String(value).replace(/^-/, '−');
}
