import type { FileHandle } from 'node:fs/promises';
import { Refusal } from '#app/refusal';
import { type ForeignFile, type ForeignTable, foreignFiles } from '#features/exchange/model/foreignTables';
import { openForeignPackage, PackageError } from './openPackage';

const MOST_TABLES = 500;
const MOST_TABLE_BYTES = 200_000_000;

interface ForeignResource {
  name?: unknown;
  path?: unknown;
  schema?: { fields?: { name?: unknown; unit?: unknown }[] };
}

/**
 * What another program's Data Package says was measured, as files that are read like logs; null where it is one of this program, or none at all.
 * @throws Refusal where no table of it says what was measured
 */
export async function foreignPackage(file: FileHandle, name: string): Promise<ForeignFile[] | null> {
  const opened = await openForeignPackage(file, name).catch((error: unknown) => {
    // whoever reads it next says why
    if (error instanceof PackageError) return null;
    throw error;
  });
  if (!opened || opened.has('study.json')) return null;
  const tables: ForeignTable[] = [];
  for (const { path, name: called, schema } of opened.descriptor.resources.slice(0, MOST_TABLES) as ForeignResource[]) {
    if (typeof path !== 'string' || !/\.(csv|tsv|txt)$/i.test(path) || !opened.has(path) || opened.bytesOf(path) > MOST_TABLE_BYTES)
      continue;
    const fields = (Array.isArray(schema?.fields) ? schema.fields : []).flatMap((f) =>
      typeof f?.name === 'string' ? [{ name: f.name, ...(typeof f.unit === 'string' ? { unit: f.unit } : {}) }] : [],
    );
    tables.push({ name: typeof called === 'string' ? called : path, path, text: await opened.text(path), fields });
  }
  const files = foreignFiles(tables);
  if (files.length === 0)
    throw new Refusal(
      `${name} comes from another program, and no table of it says what was measured: a table needs a specimen and a value, or a time and a temperature.`,
    );
  return files;
}
