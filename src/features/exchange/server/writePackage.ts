import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import yazl from 'yazl';
import { database } from '#app/database/pool';
import { damaged } from '#app/refusal';
import {
  type PackageDescriptor,
  type PackageResource,
  packageReadme,
  resourceName,
  tableResource,
} from '#features/exchange/model/descriptor';
import { tableText } from '#features/exchange/model/packageTable';
import { samplesResource } from '#features/exchange/model/samples';
import { orderedJson } from '#features/exchange/model/studyDocument';
import { TABLES } from '#features/exchange/model/tables';
import { readPicture } from '#features/mount/store/photographs';
import { reportAsMarkdown } from '#features/report/model/markdown';
import type { PublishedReport } from '#features/report/model/published';
import { asPublished } from '#features/report/server/published';
import { type PublishedAssets, publishedAssets } from '#features/report/server/publishedAssets';
import { readSoundClip } from '#features/results/store/soundClips';
import { intactPieces } from '#features/run/server/keptFile';
import { type GatheredPackage, gatherPackage } from './gatherPackage';
import { sampleBytes } from './sampleBytes';
import { STUDY_SCHEMA } from './studySchema';

/** The same state writes the same bytes: the times of the ZIP say nothing. */
const NO_TIME = new Date(1980, 0, 1);
const ENTRY = { mtime: NO_TIME, mode: 0o100644, forceDosTimestamp: true } as const;

interface PackageOptions {
  /** photographs may be left out, and samples, which a reader finds in the logs too */
  photographs?: boolean;
  samples?: boolean;
  /** draws a published version: its files by the ends of their names; without it the content alone goes in */
  draw?: (report: PublishedReport, assets: PublishedAssets) => Record<string, string>;
  /** told how many bytes went in so far, before they are packed */
  onBytes?: (bytes: number) => void;
}

/** A package that is being written. */
export interface WrittenPackage {
  /** a name for its file */
  name: string;
  /** bytes as they come; it is destroyed with an error where a file cannot be read */
  stream: Readable;
}

/**
 * Writes a study as a package, while it is read: no file is held as a whole.
 * @throws Refusal 404 where there is no such study
 */
export async function writePackage(studyId: number, options: PackageOptions = {}): Promise<WrittenPackage> {
  const gathered = await gatherPackage(studyId);
  const name = resourceName(gathered.document.study.title).slice(0, 60);
  const contents = options.draw ? gathered.reports.map((r) => r.content).join('') : '';
  const parts = partsOf(gathered, options, contents === '' ? { style: '', script: '' } : await publishedAssets(contents));
  return { name: `${name}.zip`, stream: zipped(parts, (resources) => descriptorOf(gathered, name, resources), options.onBytes) };
}

/** A file of a package: what is told of it, and its bytes. */
interface Part {
  resource: Omit<PackageResource, 'bytes' | 'hash'>;
  pieces: () => AsyncIterable<Uint8Array> | Iterable<Uint8Array>;
  /** packed already */
  isPacked?: boolean;
}

function partsOf(
  { document, tables, files, samples, photographs, clips, reports }: GatheredPackage,
  { photographs: withPhotographs = true, samples: withSamples = true, draw }: PackageOptions,
  assets: PublishedAssets,
): Part[] {
  const text = (resource: Part['resource'], content: string): Part => ({ resource, pieces: () => [Buffer.from(content)] });
  return [
    text({ name: 'readme', path: 'README.txt', mediatype: 'text/plain' }, packageReadme(document.study.title)),
    text({ name: 'study', path: 'study.json', mediatype: 'application/json' }, orderedJson(document)),
    text({ name: 'study-schema', path: 'schema/study-1.json', mediatype: 'application/schema+json' }, STUDY_SCHEMA),
    ...TABLES.map((table) => text(tableResource(table, { bytes: 0, hash: '' }), tableText(table, tables[table.name] ?? []))),
    ...reports.flatMap((report) => reportFiles(report, document.lab, assets, draw).map(([resource, content]) => text(resource, content))),
    ...files.map(({ path, name, file_id, position, sha256, size }) => ({
      resource: { name: resourceName(path), path, mediatype: 'application/octet-stream', title: name },
      pieces: () => intactPieces(database(), { position, name, file_id, sha256, size }),
    })),
    ...(withSamples ? samples : []).map((run) => ({
      resource: samplesResource(run.run_id, run.channels),
      pieces: () => sampleBytes(run),
      isPacked: true,
    })),
    ...clips.map(({ id, path, name, kind }) => ({
      resource: { name: resourceName(path), path, mediatype: kind, title: name },
      pieces: () => intact(`sound clip ${name}`, async () => readSoundClip(database(), id)),
      isPacked: true,
    })),
    ...(withPhotographs ? photographs : []).flatMap(({ id, path, caption, face }) => [
      picture(id, 'photograph', path, caption),
      // the part in it, seen straight from above, as its print was read
      ...(face ? [picture(id, 'view', path.replace(/\.jpg$/, '-view.jpg'), caption)] : []),
    ]),
  ];
}

/** A published version: its content, and drawn from it the page, the text and the drawings. */
function reportFiles(
  { number, path, content, ...row }: GatheredPackage['reports'][number],
  lab: string,
  assets: PublishedAssets,
  draw: PackageOptions['draw'],
): [Part['resource'], string][] {
  const json: [Part['resource'], string] = [
    { name: `report-v${number}`, path, mediatype: 'application/json', title: `Version ${number}` },
    content,
  ];
  if (!draw) return [json];
  const base = path.replace(/\.json$/, '');
  const resource = (end: string): Part['resource'] => ({
    ...{
      name: `report-v${number}${end.replace('.', '-')}`,
      path: `${end.endsWith('.svg') ? base.replace('/', '/figures/') : base}${end}`,
      mediatype: MEDIA[end.slice(end.lastIndexOf('.'))],
    },
  });
  const read = JSON.parse(content);
  const drawn = { ...draw({ ...asPublished({ number, ...row }, lab), content: read }, assets), '.md': reportAsMarkdown(read) };
  return [json, ...Object.entries(drawn).map(([end, made]): [Part['resource'], string] => [resource(end), made])];
}

const MEDIA: Record<string, string> = { '.html': 'text/html', '.svg': 'image/svg+xml', '.md': 'text/markdown' };

const picture = (id: number, what: 'photograph' | 'view', path: string, caption: string): Part => ({
  resource: { name: resourceName(path), path, mediatype: 'image/jpeg', ...(caption ? { title: caption } : {}) },
  pieces: () =>
    intact(`photograph ${id}`, async () => {
      const found = await readPicture(database(), id, what);
      return found && { bytes: found.picture, intact: found.intact };
    }),
  isPacked: true,
});

/** Bytes of the store, where they are what was stored. */
async function* intact(what: string, read: () => Promise<{ bytes: Buffer; intact: boolean } | null>): AsyncGenerator<Uint8Array> {
  const found = await read();
  if (!found?.intact) throw damaged(what);
  yield found.bytes;
}

/** The parts one after the other, and at the end what is told of them. */
function zipped(parts: Part[], describe: (resources: PackageResource[]) => PackageDescriptor, onBytes?: (bytes: number) => void): Readable {
  const zip = new yazl.ZipFile();
  const out = zip.outputStream as Readable;
  const resources: PackageResource[] = [];
  let total = 0;
  let source: Readable | null = null;
  // a part is asked for its bytes when those before it are written
  const add = (at: number): void => {
    const part = parts[at];
    if (!part) {
      zip.addBuffer(Buffer.from(`${JSON.stringify(describe(resources), null, 1)}\n`), 'datapackage.json', ENTRY);
      zip.end();
      return;
    }
    const read = async function* () {
      const hash = createHash('sha256');
      let bytes = 0;
      for await (const piece of part.pieces()) {
        hash.update(piece);
        bytes += piece.length;
        total += piece.length;
        onBytes?.(total);
        yield piece;
      }
      resources.push({ ...part.resource, bytes, hash: `sha256:${hash.digest('hex')}` });
      add(at + 1);
    };
    source = Readable.from(read(), { objectMode: false, highWaterMark: 64 * 1024 });
    source.on('error', (error) => out.destroy(error));
    zip.addReadStream(source, part.resource.path, { ...ENTRY, compress: !part.isPacked });
  };
  // who stops taking it stops the reading too
  out.once('close', () => source?.destroy());
  add(0);
  return out;
}

function descriptorOf(
  { document, tables, changed_at, reports }: GatheredPackage,
  name: string,
  resources: PackageResource[],
): PackageDescriptor {
  const { study, program } = document;
  const people = [
    ...new Set(Object.values(tables).flatMap((rows) => rows.flatMap((r) => (typeof r.who === 'string' && r.who !== '' ? [r.who] : [])))),
  ];
  const authors = [...new Set(reports.map((r) => r.author).filter((a) => a !== ''))];
  return {
    ...{ profile: 'data-package', name, title: study.title },
    description: `${study.question ? `${study.question} ` : ''}Measured and compared with ${program.name} ${program.version}.`,
    ...{ version: `${Math.max(0, ...reports.map((r) => r.number))}.0.0`, created: changed_at },
    contributors: [
      ...authors.map((title) => ({ title, role: 'author' as const })),
      ...people.sort().map((title) => ({ title, role: 'contributor' as const })),
    ],
    resources,
  };
}
