import { createHash } from 'node:crypto';
import type { FileHandle } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import yauzl from 'yauzl';
import type { PackageDescriptor, PackageResource } from '#features/exchange/model/descriptor';

/** A package that cannot be read at all, told in a sentence. */
export class PackageError extends Error {}

const DESCRIPTOR = 'datapackage.json';
const MOST_ENTRIES = 100_000;
const MOST_DESCRIPTOR_BYTES = 20_000_000;
/** Of a table or a document, which are held as a whole. */
const MOST_TEXT_BYTES = 200_000_000;
/** So many times no log is larger than it is packed; what is, was made to fill a disk. */
const MOST_SWELLING = 300;
/** Of all files together, unpacked. */
const MOST_BYTES = 200e9;

/** A package that was opened: what is in it is read when it is asked for. */
export interface OpenedPackage {
  descriptor: PackageDescriptor;
  /** files of the package that its descriptor does not list */
  unlisted: string[];
  /** whether a file lies in it */
  has: (path: string) => boolean;
  bytesOf: (path: string) => number;
  /** bytes of a file from its beginning */
  stream: (path: string) => Promise<Readable>;
  /** a whole file, bounded */
  bytes: (path: string) => Promise<Buffer>;
  /** a whole text, bounded */
  text: (path: string) => Promise<string>;
  close: () => void;
}

/**
 * Opens a package and reads what it says is in it. Nothing is unpacked to disk; names that lead out of it are refused.
 * @throws PackageError in a sentence where it is none, or nothing a package may be
 */
export async function openPackage(file: string): Promise<OpenedPackage> {
  const zip = await yauzl.openPromise(file, ZIP_OPTIONS).catch((error: NodeJS.ErrnoException) => {
    throw error.code === 'ENOENT' ? new PackageError(`There is no file ${file}.`) : noPackage(file, error.message);
  });
  return openZip(zip, file);
}

/**
 * Opens a package that is held as an open file, which stays open when the package is closed.
 * @param name as it is called in sentences
 * @throws PackageError as openPackage
 */
export async function openHeldPackage(file: FileHandle, name: string): Promise<OpenedPackage> {
  return openZip(await heldZip(file, name), name);
}

/**
 * Opens a package of any program: its descriptor may tell less.
 * @throws PackageError where it is no Data Package
 */
export async function openForeignPackage(file: FileHandle, name: string): Promise<OpenedPackage> {
  return openZip(await heldZip(file, name), name, isForeignResource);
}

async function heldZip(file: FileHandle, name: string): Promise<yauzl.ZipFile> {
  // the file is closed by whoever holds it
  const zip = await yauzl.fromFdPromise(file.fd, ZIP_OPTIONS).catch((error: Error) => {
    throw noPackage(name, error.message);
  });
  return Object.assign(zip, { close: () => {} });
}

const ZIP_OPTIONS = { lazyEntries: true, autoClose: false } as const;
const noPackage = (file: string, why: string) => new PackageError(`${file} cannot be read as a package: ${why}.`);

async function openZip(zip: yauzl.ZipFile, file: string, isResource = isOwnResource): Promise<OpenedPackage> {
  const refuse = (why: string) => noPackage(file, why);
  try {
    const found = new Map<string, yauzl.Entry>();
    let total = 0;
    for await (const entry of zip.eachEntry()) {
      if (entry.fileName.endsWith('/')) continue;
      if (found.has(entry.fileName)) throw new Error(`it holds ${entry.fileName} twice`);
      if (found.size === MOST_ENTRIES) throw new Error(`it holds more than ${MOST_ENTRIES} files`);
      if (entry.isEncrypted()) throw new Error(`${entry.fileName} is encrypted`);
      if (entry.uncompressedSize > MOST_SWELLING * entry.compressedSize + 1e6)
        throw new Error(`${entry.fileName} would swell more than ${MOST_SWELLING} times`);
      total += entry.uncompressedSize;
      if (total > MOST_BYTES) throw new Error('unpacked it would be larger than 200 GB');
      found.set(entry.fileName, entry);
    }
    const entries = withoutTop(found);
    const entryOf = (path: string) => {
      const entry = entries.get(path);
      if (!entry) throw refuse(`${path} is missing`);
      return entry;
    };
    const damaged = (path: string) => (error: Error) => {
      throw refuse(`${path} is damaged (${error.message})`);
    };
    const stream = (path: string) => zip.openReadStreamPromise(entryOf(path)).catch(damaged(path));
    const bytes = async (path: string, most = MOST_TEXT_BYTES) => {
      if (entryOf(path).uncompressedSize > most) throw refuse(`${path} is larger than ${most / 1e6} MB`);
      return buffer(await stream(path)).catch(damaged(path));
    };
    const text = async (path: string, most?: number) => {
      const read = await bytes(path, most);
      try {
        return new TextDecoder('utf-8', { fatal: true }).decode(read);
      } catch {
        throw refuse(`${path} is not UTF-8`);
      }
    };
    const descriptor = readDescriptor(await text(DESCRIPTOR, MOST_DESCRIPTOR_BYTES), isResource);
    const listed = new Set(descriptor.resources.map((r) => r.path));
    return {
      descriptor,
      unlisted: [...entries.keys()].filter((path) => path !== DESCRIPTOR && !listed.has(path)),
      has: (path) => entries.has(path),
      bytesOf: (path) => entryOf(path).uncompressedSize,
      ...{ stream, bytes, text },
      close: () => zip.close(),
    };
  } catch (error) {
    zip.close();
    throw error instanceof PackageError ? error : refuse((error as Error).message);
  }
}

/** Entries of a package that was unpacked and packed again with the folder it lay in: under their own names. */
function withoutTop(found: Map<string, yauzl.Entry>): Map<string, yauzl.Entry> {
  if (found.has(DESCRIPTOR)) return found;
  const [top] = [...found.keys()].flatMap((name) =>
    name.endsWith(`/${DESCRIPTOR}`) && name.split('/').length === 2 ? [name.slice(0, -DESCRIPTOR.length)] : [],
  );
  // what else the packing program put beside it is no part of the package
  return top === undefined
    ? found
    : new Map([...found].flatMap(([name, entry]) => (name.startsWith(top) ? [[name.slice(top.length), entry]] : [])));
}

function readDescriptor(json: string, isResource: (r: unknown) => boolean): PackageDescriptor {
  let read: unknown;
  try {
    read = JSON.parse(json);
  } catch (error) {
    throw new Error(`${DESCRIPTOR} is no JSON (${(error as Error).message})`);
  }
  const { resources } = (read ?? {}) as Partial<PackageDescriptor>;
  if (!Array.isArray(resources) || !resources.every(isResource))
    throw new Error(`${DESCRIPTOR} does not list resources with path, bytes and hash`);
  return read as PackageDescriptor;
}

function isOwnResource(r: unknown): boolean {
  const { path, bytes, hash } = (r ?? {}) as Partial<PackageResource>;
  return typeof path === 'string' && typeof bytes === 'number' && typeof hash === 'string';
}

/** Others may list data without a file, or a file in parts. */
const isForeignResource = (r: unknown): boolean => typeof r === 'object' && r !== null;

/** Bytes and hash of a file of a package, as they are. */
export async function measured(opened: OpenedPackage, path: string): Promise<{ bytes: number; hash: string }> {
  const hash = createHash('sha256');
  let bytes = 0;
  for await (const piece of await opened.stream(path)) {
    hash.update(piece);
    bytes += piece.length;
  }
  return { bytes, hash: `sha256:${hash.digest('hex')}` };
}
