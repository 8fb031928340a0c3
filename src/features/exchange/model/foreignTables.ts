import Papa from 'papaparse';

/** A table of a package of another program, as its descriptor tells it. */
export interface ForeignTable {
  name: string;
  path: string;
  text: string;
  /** as far as they are described */
  fields: { name: string; unit?: string }[];
}

/** A file as it is read like any log or table of readings. */
export interface ForeignFile {
  name: string;
  text: string;
}

/** Words for what a run belongs to, in the headers of others. */
const BELONGS = {
  specimen: /^(specimen|material|sample|cooler|state|paste|name)s?$/i,
  mount: /^(mount|application|assembly)([ _-]?(id|no|number))?$/i,
  run: /^(run|repeat|repetition|trial)([ _-]?(id|no|number))?$/i,
};
const TIMES = /^(time|elapsed|seconds|timestamp|date.?time|t)([ _(/].*)?$|_s$/i;
const VALUES = /^(value|mean|rise|result|temperature|delta)/i;
/** Units as a log's header spells them, by their UCUM codes. */
const SPELLED: Record<string, string> = { Cel: '°C', '[degF]': '°F', '{rpm}': 'rpm', 'r/min': 'rpm' };
const MOST_RUNS = 200;

/**
 * Tables of a package of another program as files that are read like its logs: one of samples becomes a log a run, named by what the table says
 * it belongs to; one of values stays a table. Where both are there the samples count.
 * @returns none where no table says what was measured
 */
export function foreignFiles(tables: ForeignTable[]): ForeignFile[] {
  const read = tables.map((table) => ({
    table,
    rows: Papa.parse<string[]>(table.text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy' }).data,
  }));
  const samples = read.filter(({ rows }) => isSamples(rows));
  if (samples.length > 0) return samples.flatMap(({ table, rows }) => asLogs(table, rows)).slice(0, MOST_RUNS);
  const values = read.find(({ rows: [head = []] }) => columnOf(head, BELONGS.specimen) >= 0 && head.some((c) => VALUES.test(c.trim())));
  return values ? [{ name: fileName(values.table), text: Papa.unparse(values.rows, { newline: '\n' }) }] : [];
}

const columnOf = (head: string[], words: RegExp): number => head.findIndex((c) => words.test(c.trim()));

/** Samples have a time that goes on from row to row. */
function isSamples([head = [], ...rows]: string[][]): boolean {
  return columnOf(head, TIMES) >= 0 && rows.length > 20 && head.length > 1;
}

/** A table of samples as one log a run. */
function asLogs(table: ForeignTable, [head, ...rows]: string[][]): ForeignFile[] {
  const belongs = Object.values(BELONGS).map((words) => columnOf(head, words));
  const kept = head.map((_, i) => i).filter((i) => !belongs.includes(i));
  const names = kept.map((i) => withUnit(head[i], table.fields.find((f) => f.name === head[i])?.unit));
  const runs = new Map<string, string[][]>();
  for (const row of rows) {
    const [specimen, mount, run] = belongs.map((i) => (i < 0 ? '' : (row[i] ?? '').trim()));
    const name = [specimen, mount && `mount${mount}`, run && `run${run}`].filter((part) => part !== '').join('_');
    const own = runs.get(name);
    const cells = kept.map((i) => row[i] ?? '');
    if (own) own.push(cells);
    else runs.set(name, [cells]);
  }
  return [...runs].map(([name, own]) => ({
    name: name === '' ? fileName(table) : `${name.replace(/[\\/]/g, '-')}.csv`,
    text: Papa.unparse([names, ...own], { newline: '\n' }),
  }));
}

const withUnit = (name: string, unit: string | undefined): string =>
  unit === undefined || unit === '1' || /[([/]/.test(name) ? name : `${name} (${SPELLED[unit] ?? unit})`;

const fileName = ({ path }: ForeignTable): string =>
  path
    .split('/')
    .at(-1)
    ?.replace(/\.(tsv|txt)$/i, '.csv') ?? 'table.csv';
