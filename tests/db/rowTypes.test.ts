import { once } from 'node:events';
import { readdirSync } from 'node:fs';
import path from 'node:path';
import pg from 'pg';
import ts from 'typescript';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { database } from '../../src/app/database/pool.ts';
import { onFreshDatabase } from '../database.ts';

/** A query with the row that its caller expects, as the sources write them. */
interface TypedQuery {
  at: string;
  sql: string;
  /** what each field of the row should be in JavaScript */
  row: Record<string, string>;
}

/** What the driver makes of each PostgreSQL type, by its number; what is not here is anything, such as JSON. */
const DRIVER: Record<number, string> = {
  ...{ 16: 'boolean', 17: 'bytes', 18: 'string', 19: 'string', 25: 'string', 1043: 'string', 1700: 'string' },
  ...{ 20: 'number', 21: 'number', 23: 'number', 700: 'number', 701: 'number' },
  ...{ 1082: 'Date', 1114: 'Date', 1184: 'Date', 1007: 'number[]', 1009: 'string[]', 1016: 'number[]', 1022: 'number[]' },
};

/** What the driver's own types leave out. */
interface RawConnection extends pg.Connection {
  connect: (port: number, host: string) => void;
  startup: (config: { user: string; database: string }) => void;
}

/** Where a value goes into a statement. */
const VALUE = '\u0000';

const store = onFreshDatabase();
const queries = typedQueries();

describe('what a query of the store gives', () => {
  let connection: RawConnection;
  beforeAll(async () => {
    const { hostname, port, username, pathname } = new URL(store.url());
    connection = new pg.Connection() as RawConnection;
    connection.connect(Number(port), hostname);
    await once(connection, 'connect');
    connection.startup({ user: username, database: pathname.slice(1) });
    await once(connection, 'readyForQuery');
  });
  afterAll(() => connection?.end());

  it('finds the queries', () => {
    expect(queries.length).toBeGreaterThan(70);
  });

  it('tells a column that is missing, of another type or not told', async () => {
    const columns = await describeColumns(connection, 'select id, title, array[id] as ids from studies where id = $1');
    expect([...columns]).toEqual(Object.entries({ id: 'number', title: 'string', ids: 'number[]' }));
    await expect(describeColumns(connection, 'select name from studies')).rejects.toThrow('column "name" does not exist');
    expect((await database().query<{ ids: number[] }>('select array[20::bigint] as ids')).rows).toEqual([{ ids: [20] }]);
  });

  it.each(queries.map((q) => [q.at, q] as const))('%s is the row that is written beside it', async (_, { sql, row }) => {
    const columns = await describeColumns(connection, sql);
    const wrong = Object.entries(row).flatMap(([name, kind]) => {
      const found = columns.get(name);
      if (found === undefined) return [`${name} is no column`];
      return found === 'anything' || kind === 'anything' || found === kind ? [] : [`${name} is ${found}, not ${kind}`];
    });
    const untold = [...columns.keys()].filter((name) => !(name in row));
    expect([...wrong, ...(/select \*|\.\*/.test(sql) ? [] : untold.map((name) => `${name} is not told`))]).toEqual([]);
  });
});

/** Names and types of a statement's columns, from the server, which parses it without running it. */
async function describeColumns(connection: pg.Connection, sql: string): Promise<Map<string, string>> {
  const columns = new Map<string, string>();
  let refusal: Error | null = null;
  const told = ({ fields }: { fields: { name: string; dataTypeID: number }[] }) => {
    for (const f of fields) columns.set(f.name, DRIVER[f.dataTypeID] ?? 'anything');
  };
  const refused = (message: { message: string }) => {
    refusal = new Error(message.message);
  };
  connection.once('rowDescription', told);
  connection.once('errorMessage', refused);
  const ready = once(connection, 'readyForQuery');
  connection.parse({ name: '', text: sql, types: [] }, true);
  connection.describe({ type: 'S', name: '' }, true);
  connection.sync();
  await ready;
  connection.off('rowDescription', told);
  connection.off('errorMessage', refused);
  if (refusal) throw refusal;
  return columns;
}

/** Every `many<Row>(db)` and the like of the stores whose text stands in its file. */
function typedQueries(): TypedQuery[] {
  const files = readdirSync('src', { recursive: true })
    .map((f) => path.join('src', String(f)))
    .filter((f) => /(\/store\/|\/database\/)[\w]+\.ts$/.test(f) && !f.endsWith('.test.ts'));
  const { options } = ts.parseJsonConfigFileContent(ts.readConfigFile('tsconfig.json', ts.sys.readFile).config, ts.sys, '.');
  const program = ts.createProgram(files, options);
  const checker = program.getTypeChecker();
  return files.flatMap((file) => {
    const source = program.getSourceFile(file);
    if (!source) return [];
    const constants = new Map<string, string>();
    const found: TypedQuery[] = [];
    const visit = (node: ts.Node) => {
      if (ts.isVariableDeclaration(node) && node.initializer && ts.isIdentifier(node.name)) {
        const text = textOf(node.initializer, constants);
        if (text !== null) constants.set(node.name.text, text);
      }
      if (ts.isTaggedTemplateExpression(node) && ts.isCallExpression(node.tag) && node.tag.typeArguments) {
        const sql = textOf(node.template, constants);
        const { line } = source.getLineAndCharacterOfPosition(node.getStart());
        const [row] = node.tag.typeArguments;
        if (sql !== null)
          found.push({ at: `${file}:${line + 1}`, sql: numbered(sql), row: kindsOf(checker.getTypeFromTypeNode(row), checker) });
      }
      ts.forEachChild(node, visit);
    };
    visit(source);
    return found;
  });
}

/** A statement with its values numbered, as `query` sends it. */
function numbered(sql: string): string {
  let n = 0;
  return sql.replaceAll(VALUE, () => `$${++n}`);
}

/** The text of a statement, with the pieces of its file in their places; null where it is put together otherwise. */
function textOf(node: ts.Expression, constants: Map<string, string>): string | null {
  const text = ts.isTaggedTemplateExpression(node) ? node.template : node;
  if (ts.isStringLiteralLike(text)) return text.text;
  if (!ts.isTemplateExpression(text)) return null;
  const values = text.templateSpans.map(({ expression, literal }) => {
    if (/^(OF_|USES|TABLES|level|values$|times$|whose$)|sql`/.test(expression.getText())) return null;
    return ((ts.isIdentifier(expression) && constants.get(expression.text)) || VALUE) + literal.text;
  });
  return values.includes(null) ? null : text.head.text + values.join('');
}

function kindsOf(row: ts.Type, checker: ts.TypeChecker): Record<string, string> {
  return Object.fromEntries(
    checker.getPropertiesOfType(row).map((p) => [p.name, kindOf(checker.getNonNullableType(checker.getTypeOfSymbol(p)), checker)]),
  );
}

function kindOf(type: ts.Type, checker: ts.TypeChecker): string {
  const parts = type.isUnion() ? type.types : [type];
  const all = (flag: ts.TypeFlags) => parts.every((t) => (t.flags & flag) !== 0);
  if (all(ts.TypeFlags.StringLike)) return 'string';
  if (all(ts.TypeFlags.NumberLike)) return 'number';
  if (all(ts.TypeFlags.BooleanLike)) return 'boolean';
  const name = type.getSymbol()?.name;
  if (name === 'Date') return 'Date';
  if (name === 'Buffer' || name === 'Uint8Array') return 'bytes';
  const [element] = checker.isArrayType(type) ? checker.getTypeArguments(type as ts.TypeReference) : [];
  const kind = element && kindOf(element, checker);
  return kind === 'string' || kind === 'number' ? `${kind}[]` : 'anything';
}
