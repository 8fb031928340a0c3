import { type PackageTable, tableSchema } from './packageTable';

/** Something that lies in a package. */
export interface PackageResource {
  name: string;
  path: string;
  mediatype: string;
  bytes: number;
  /** sha256: and its hexadecimal digits */
  hash: string;
  title?: string;
  profile?: 'tabular-data-resource';
  encoding?: 'utf-8';
  compression?: 'gz';
  dialect?: { delimiter: ','; lineTerminator: '\n' };
  schema?: object;
}

/** datapackage.json (Data Package, v1). */
export interface PackageDescriptor {
  profile: 'data-package';
  name: string;
  title: string;
  description: string;
  version: string;
  created: string;
  contributors: { title: string; role: 'author' | 'contributor' }[];
  licenses?: { name: string; title: string }[];
  resources: PackageResource[];
}

/** A name as a Data Package wants it: lower case, digits, points, hyphens and underlines. */
export const resourceName = (path: string): string =>
  path
    .toLowerCase()
    .replace(/[^a-z0-9._-]+/g, '-')
    .replace(/^[-.]+|[-.]+$/g, '') || 'unnamed';

/** A table of a package among its resources. */
export const tableResource = (table: PackageTable, written: { bytes: number; hash: string }): PackageResource => ({
  ...{ name: table.name, path: tablePath(table), title: table.title, profile: 'tabular-data-resource' },
  ...{ mediatype: 'text/csv', encoding: 'utf-8', dialect: { delimiter: ',', lineTerminator: '\n' } },
  ...written,
  schema: tableSchema(table),
});

export const tablePath = ({ name }: Pick<PackageTable, 'name'>): string => `tables/${name}.csv`;

/** README.txt of a package. */
export const packageReadme = (title: string): string => `${title}

A study of Warm Gauge as a package that anybody can read and check. It is a Data
Package (v1): datapackage.json lists what is in it, with bytes and SHA-256 of each
file, and with types and units of each column of the tables.

tables/       one row a thing, CSV: runs with their figures, mounts, pairs with verdicts
logs/         the original files, byte for byte
samples/      every reading of each run, a column a channel, as gzipped CSV
photographs/  of the mounts and their rigs; clips/ of the sound
study.json    plan, rigs, instruments, materials, and how each run was read;
              schema/study-1.json describes it
report/       published reports as they were frozen

To check it: ./warm-gauge verify FILE.zip reads every value anew from the logs and
every verdict from the values, and lists what differs from the tables.
`;
