import { ChoiceField, type FieldSpec, fieldsOf, NumberField, TextField, WholeField, YesNoField } from '#rules/fields';
import { check } from '#rules/validation';
import { type Client, database, transaction } from './database/pool';
import { execute, only } from './database/query';
import { Refusal } from './refusal';
import { refuseUnseen } from './seen';

/** Decisions of the lab that hold for all pages and new studies; a browser may read dates and hear alarms otherwise. */
export class LabSettings {
  @TextField('This lab', 'Name', 120, 'Stands on published pages and in packages, so that others know who measured.')
  lab?: string | null;

  @ChoiceField('Reading', 'Dates', {
    choices: { iso: '2026-06-02', dmy: '2 Jun 2026', mdy: 'Jun 2, 2026' },
  })
  dates?: 'iso' | 'dmy' | 'mdy' | null;

  @ChoiceField('Reading', 'Times', { choices: { 24: '14:30', 12: '2:30 PM' } })
  clock?: '24' | '12' | null;

  @TextField('Reading', 'Time zone', 60, 'Such as Europe/Zurich. Empty: that of each device.')
  zone?: string | null;

  @YesNoField('Reading', 'Alarm sound', 'A live run calls when something is wrong.')
  sound?: boolean | null;

  @NumberField('New studies', 'Smallest difference that matters', 'K', [0.01, 50])
  margin_k?: number | null;

  @NumberField('New studies', 'Confidence', '', [0.5, 0.9999], 'Holds for all verdicts together, such as 0.95.')
  confidence?: number | null;

  @WholeField('New studies', 'Averaging window', 's', [30, 3600], 'The last seconds of the load over which a run is averaged.')
  window_s?: number | null;

  @TextField('New studies', 'Currency', 3, 'Three letters, such as EUR.')
  currency?: string | null;

  @YesNoField('Daily backups', 'A backup every day', 'Of the whole store, while it is used. Off: only before an upgrade.')
  backups?: boolean | null;

  @WholeField('Daily backups', 'Keep one a day for', 'days', [1, 366], 'The newest one always stays.')
  backup_days?: number | null;

  @WholeField('Daily backups', 'Keep one a week for', 'weeks', [0, 260])
  backup_weeks?: number | null;

  @WholeField('Daily backups', 'Keep one a month for', 'months', [0, 120])
  backup_months?: number | null;

  @WholeField(
    'Old samples',
    'Pack samples after',
    'days',
    [1, 36_500],
    'Packed samples take about a fifth of the room and are read as before. Empty: never.',
  )
  pack_days?: number | null;

  @WholeField(
    'Old samples',
    'Drop samples after',
    'days',
    [1, 36_500],
    'Values, findings and the original log stay; a run that is looked at closely is read from its log. Empty: never.',
  )
  drop_days?: number | null;
}

/** What holds where nothing is set. */
export const SETTINGS_DEFAULTS = {
  ...{ lab: '', dates: 'iso', clock: '24', zone: '', sound: true },
  ...{ margin_k: 1, confidence: 0.95, window_s: 120, currency: '' },
  ...{ backups: true, backup_days: 7, backup_weeks: 4, backup_months: 3 },
  ...{ pack_days: null, drop_days: null },
} as const satisfies LabSettings;

/** What may be left without a value: nothing is done then. */
type Optional = 'pack_days' | 'drop_days';
type Settled = { [K in Exclude<keyof LabSettings, Optional>]-?: NonNullable<LabSettings[K]> } & { [K in Optional]: number | null };

/** Fields of the settings with their words. */
export const settingsFields = (): FieldSpec[] => fieldsOf(LabSettings);

/** What the lab set, and nothing else. */
export const givenSettings = async (db: Client = database()): Promise<LabSettings> =>
  (await only<{ given: LabSettings }>(db)`select given from settings`).given;

/** The settings with their defaults. */
export async function labSettings(db: Client = database()): Promise<Settled> {
  const given = await givenSettings(db);
  const set = Object.fromEntries(Object.entries(given).filter(([, v]) => v !== null && v !== ''));
  return { ...SETTINGS_DEFAULTS, ...set } as Settled;
}

/**
 * Stores the settings of the lab.
 * @throws RuleError where one breaks its rule, Refusal for a time zone or a currency that is none
 */
export async function saveSettings(given: Record<string, unknown>): Promise<LabSettings> {
  const set = check(LabSettings, given);
  if (set.zone && !isZone(set.zone))
    throw new Refusal(`"${set.zone}" is not a time zone; write it as in Europe/Zurich or UTC.`, 400, { field: 'zone' });
  if (set.currency && !/^[A-Z]{3}$/.test(set.currency))
    throw new Refusal('A currency is three capital letters, such as EUR.', 400, { field: 'currency' });
  if (set.pack_days && set.drop_days && set.drop_days <= set.pack_days)
    throw new Refusal(
      `Samples dropped after ${set.drop_days} days are never packed: set more days for dropping, or leave packing empty.`,
      400,
      { field: 'drop_days' },
    );
  return transaction(async (client) => {
    const { given: theirs } = await only<{ given: LabSettings }>(client)`select given from settings for update`;
    const differing = settingsFields().filter((f) => String(theirs[f.key as never] ?? '') !== String((set as never)[f.key] ?? ''));
    const named = differing.map((f) => `${f.label}: ${settingWords(f, theirs[f.key as never])}`).join('; ');
    refuseUnseen(given, theirs, `Somebody else saved the settings meanwhile${named && ` (${named})`}.`);
    await execute(client)`update settings set given = ${set}`;
    return set;
  });
}

/** A setting as its page shows it. */
const settingWords = ({ choices }: FieldSpec, value: unknown): string =>
  value == null ? 'default' : typeof value === 'boolean' ? (value ? 'on' : 'off') : (choices?.[String(value) as never] ?? String(value));

function isZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name });
    return true;
  } catch {
    return false;
  }
}
