import { useState } from 'react';
import { type LogOptions, ROLES, type Role } from '#core/signal/logs/types';
import { write } from '#core/text/words';
import { UNITS, type Unit } from '#core/units/units';
import { Act, Options, Quiet } from '#ui/Form.tsx';
import { Table } from '#ui/Table.tsx';
import { TraceChart } from '#ui/TraceChart.tsx';
import type { Preview, PreviewColumn, PreviewLog } from './preview.worker';
import type { RunChoices } from './types';

interface ReadingPanelProps {
  preview: Preview | null;
  reading: LogOptions;
  onReading: (reading: LogOptions) => void;
  choices: RunChoices;
  onChoices: (change: (c: RunChoices) => RunChoices) => void;
}

const DELIMITERS: Record<string, string> = { ',': 'commas', ';': 'semicolons', '\t': 'tabs', ' ': 'blanks', '|': 'upright bars' };
const TIMES: Record<string, string> = {
  iso: 'ISO dates',
  dotted_date: 'day.month.year dates',
  day_month: 'dates with the day first',
  month_day: 'dates with the month first',
  time_of_day: 'times of day without a date',
  elapsed_clock: 'elapsed hours, minutes and seconds',
  epoch_s: 'seconds since 1970',
  epoch_ms: 'milliseconds since 1970',
  epoch_us: 'microseconds since 1970',
  epoch_ns: 'nanoseconds since 1970',
  month_name: 'dates with the name of the month',
  excel_serial: 'spreadsheet day numbers',
  elapsed_s: 'elapsed seconds',
};

/** What was understood of the files, column by column, each guess open to correction. */
export function ReadingPanel({ preview, reading, onReading, choices, onChoices }: ReadingPanelProps) {
  const setRole = (name: string, role: Role) => onReading({ ...reading, keep_guesses: true, roles: { ...reading.roles, [name]: role } });
  const setUnit = (name: string, unit: Unit) => onReading({ ...reading, units: { ...reading.units, [name]: unit } });
  const sensors = preview?.logs.flatMap((l) => l.columns.filter((c) => c.role === 'sensor').map((c) => c.name)) ?? [];
  return (
    <div className="flex min-w-0 flex-col gap-6">
      {preview?.problem && (
        <div role="alert" className="border-l-4 border-ember bg-leaf px-4 py-3">
          <p className="text-name font-semibold">{preview.problem}</p>
          {preview.asks === 'day_order' && (
            <p className="mt-3 flex gap-2">
              <Act onClick={() => onReading({ ...reading, day_first: true })}>The day is first</Act>
              <Act onClick={() => onReading({ ...reading, day_first: false })}>The month is first</Act>
            </p>
          )}
        </div>
      )}
      {preview?.logs.map((log) => (
        <section key={log.file} aria-label={`What was read of ${log.file}`}>
          <h3 className="text-name font-semibold">{preview.logs.length > 1 ? log.file : 'What was read'}</h3>
          <p className="text-soft">{describeLog(log)}</p>
          <Columns log={log} onRole={setRole} onUnit={setUnit} />
          <details className="mt-2">
            <summary className="cursor-pointer py-1">First rows as they stand in the file</summary>

            <Table
              label={`First rows of ${log.file}`}
              className="text-note"
              rows={log.preview}
              keyOf={(_, i) => i}
              columns={log.headers.map((head, i) => ({ head, className: 'figure whitespace-nowrap', cell: (row: string[]) => row[i] }))}
            />
          </details>
        </section>
      ))}
      {sensors.length > 1 && (
        <label className="flex flex-wrap items-center gap-2">
          <span className="font-semibold">The run is evaluated by</span>
          <select
            className="field"
            value={choices.sensor ?? ''}
            onChange={(e) => onChoices((c) => ({ ...c, sensor: e.target.value || null }))}
          >
            <option value="">the mean of the sensors</option>
            <Options choices={sensors.map((s) => [s, `${s}alone`] as const)} />
          </select>
        </label>
      )}
      {preview?.reduction && !preview.reduction.channels.some((c) => c.role === 'ambient' && !c.dead) && (
        <p className="flex flex-wrap items-center gap-2">
          <label className="flex items-center gap-2">
            <span className="font-semibold">Room temperature, entered by hand / °C</span>
            <input
              className="field figure w-24"
              inputMode="decimal"
              defaultValue={choices.room_c ?? ''}
              onChange={(e) => onChoices((c) => ({ ...c, room_c: parseRoom(e.target.value) }))}
            />
          </label>
          <label className="flex items-center gap-2">
            <span>uncertainty / K</span>
            <input
              className="field figure w-20"
              inputMode="decimal"
              defaultValue={choices.room_u_k ?? ''}
              onChange={(e) => onChoices((c) => ({ ...c, room_u_k: parseRoom(e.target.value) }))}
            />
          </label>
          <span className="text-soft">Or add the log of the room as another file.</span>
        </p>
      )}
      {preview?.reduction && preview.lines.length > 0 && (
        <section aria-label="Trace">
          <h3 className="text-name font-semibold">Trace</h3>
          <TraceChart
            title="Trace of the log"
            lines={preview.lines}
            stages={preview.reduction.stages}
            window={preview.reduction.window}
            duration_s={preview.reduction.duration_s}
            height={220}
            strips={['ambient', 'power']}
          />
        </section>
      )}
    </div>
  );
}

function parseRoom(text: string): number | null {
  const value = Number(text.replace(',', '.'));
  return text.trim() === '' || !Number.isFinite(value) ? null : value;
}

function describeLog(log: PreviewLog): string {
  const header =
    log.header_line === null
      ? 'no header'
      : `header in line ${log.header_line}${log.unit_line === null ? '' : `, units in line ${log.unit_line}`}`;
  const left = log.rows_left_out === 0 ? '' : `, ${log.rows_left_out} left out`;
  const decimal = log.decimal === ',' ? ' and decimal commas' : '';
  return `${log.rows_kept} rows over ${write(log.duration_s / 60, 1)} min${left}; ${header}; cells between ${DELIMITERS[log.delimiter]}${decimal}, ${log.encoding}; time from ${log.time.columns.map((c) => `“${c}”`).join(' and ')} as ${TIMES[log.time.format]}.`;
}

interface ColumnsProps {
  log: PreviewLog;
  onRole: (name: string, role: Role) => void;
  onUnit: (name: string, unit: Unit) => void;
}

const FEW = 14;
const SMALL = 'field min-h-7 w-full py-0.5';
const UNIT_CHOICES = Object.entries(UNITS).map(([key, u]) => [key, u.symbol] as const);

function Columns({ log, onRole, onUnit }: ColumnsProps) {
  const [all, setAll] = useState(false);
  const used = log.columns.filter((c) => c.role !== 'ignore');
  const shown = all || log.columns.length <= FEW ? log.columns : used;
  return (
    <div className="mt-2">
      <Table
        label={`Columns of ${log.file}`}
        rows={shown}
        keyOf={(c) => c.name}
        columns={[
          { head: 'Column', className: (c) => (c.role === 'ignore' ? 'text-soft' : 'font-semibold'), cell: (c) => c.name },
          {
            head: 'Is for',
            cell: (c) => (
              <select
                aria-label={`Role of ${c.name}`}
                className={SMALL}
                value={c.role}
                onChange={(e) => onRole(c.name, e.target.value as Role)}
              >
                <Options choices={ROLES} />
              </select>
            ),
          },
          {
            head: 'Unit',
            cell: (c) => (
              <select
                aria-label={`Unit of ${c.name}`}
                className={SMALL}
                value={c.unit ?? ''}
                onChange={(e) => onUnit(c.name, e.target.value as Unit)}
              >
                {c.unit === null && <option value="">none</option>}
                <Options choices={UNIT_CHOICES} />
              </select>
            ),
          },
          { head: 'Range', figure: true, wide: true, className: 'text-note', cell: rangeOf },
          {
            head: 'Why',
            wide: true,
            className: 'text-note text-soft',
            cell: (c) => (c.missing > 0 ? `${c.missing} missing; ${c.reason}` : c.reason),
          },
        ]}
      />
      {!all && log.columns.length > FEW && (
        <Quiet className="mt-2" onClick={() => setAll(true)}>
          Show the {log.columns.length - used.length} columns that are ignored
        </Quiet>
      )}
    </div>
  );
}

/** Range in the core's unit, as that is what the value rests on. */
function rangeOf(c: PreviewColumn): string {
  if (c.least === null || c.most === null) return 'text';
  const base = c.unit === null ? '' : ` ${UNITS[UNITS[c.unit].base].symbol}`;
  const digits = Math.abs(c.most) >= 1000 ? 0 : 1;
  return `${write(c.least, digits)} to ${write(c.most, digits)}${base}`;
}
