import type pg from 'pg';
import type { Client } from './pool';
import { queryForReader } from './reader';

/** SQL with its values apart from its text. A class, so that no object a person sent can pass for one, whatever its fields are. */
export class Statement {
  constructor(
    readonly parts: readonly string[],
    readonly values: readonly unknown[],
  ) {}
}

/**
 * A piece of SQL that statements share. What stands in `${}` is sent beside the text as a parameter and never becomes SQL, but for another
 * statement, which is put in its place with its own values.
 * @example const NAMES = sql`select id, name from rigs`
 */
export function sql(text: TemplateStringsArray, ...values: unknown[]): Statement {
  const parts = [text[0]];
  const kept: unknown[] = [];
  const append = (more: string) => parts.push(`${parts.pop()}${more}`);
  values.forEach((value, i) => {
    if (value instanceof Statement) {
      append(value.parts[0]);
      parts.push(...value.parts.slice(1));
      kept.push(...value.values);
      append(text[i + 1]);
    } else {
      kept.push(value);
      parts.push(text[i + 1]);
    }
  });
  return new Statement(parts, kept);
}

type Ask<T> = (text: TemplateStringsArray, ...values: unknown[]) => Promise<T>;

function ask<Row extends pg.QueryResultRow>(db: Client, text: TemplateStringsArray, values: unknown[]): Promise<pg.QueryResult<Row>> {
  const statement = sql(text, ...values);
  return queryForReader<Row>(
    db,
    statement.parts.reduce((before, part, i) => `${before}$${i}${part}`),
    [...statement.values],
  );
}

/**
 * All rows of a statement.
 * @example many<Named>(db)`select id, name from rigs where id = ${id}`
 */
export const many =
  <Row extends pg.QueryResultRow>(db: Client): Ask<Row[]> =>
  async (text, ...values) =>
    (await ask<Row>(db, text, values)).rows;

/** The first row, or null where there is none. */
export const first =
  <Row extends pg.QueryResultRow>(db: Client): Ask<Row | null> =>
  async (text, ...values) =>
    (await ask<Row>(db, text, values)).rows[0] ?? null;

/** The row of a statement that always gives one. */
export const only =
  <Row extends pg.QueryResultRow>(db: Client): Ask<Row> =>
  async (text, ...values) =>
    (await ask<Row>(db, text, values)).rows[0];

/** True where a statement found or changed a row. */
export const touches =
  (db: Client): Ask<boolean> =>
  async (text, ...values) =>
    ((await ask(db, text, values)).rowCount ?? 0) > 0;

/** Runs a statement whose rows nobody asks for. */
export const execute =
  (db: Client): Ask<void> =>
  async (text, ...values) => {
    await ask(db, text, values);
  };
