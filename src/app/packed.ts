import { promisify } from 'node:util';
import { brotliCompress, gzip, constants as zlib } from 'node:zlib';

const brotli = promisify(brotliCompress);
const gzipped = promisify(gzip);

/** Shorter than this is not worth packing. */
const LEAST_BYTES = 1400;

/** The encoding that a reader takes and we make; null for none. */
export function encodingFor(accept: string | null): 'br' | 'gzip' | null {
  const taken = (accept ?? '').split(',').flatMap((part) => {
    const [name, ...params] = part
      .trim()
      .toLowerCase()
      .split(/\s*;\s*/);
    return params.some((p) => /^q=0(\.0*)?$/.test(p)) ? [] : [name];
  });
  return taken.includes('br') ? 'br' : taken.includes('gzip') ? 'gzip' : null;
}

/** A text packed for the way: quickly, for it may be sent once. */
export const pack = (body: Buffer, encoding: 'br' | 'gzip'): Promise<Buffer> =>
  encoding === 'br'
    ? brotli(body, { params: { [zlib.BROTLI_PARAM_QUALITY]: 4, [zlib.BROTLI_PARAM_SIZE_HINT]: body.length } })
    : gzipped(body, { level: 4 });

/** Whether an answer of this kind and size gains by packing. */
export const isPackable = (type: string | null, length: number): boolean =>
  length >= LEAST_BYTES && /^(text\/(html|csv|markdown|plain)|application\/(json|javascript)|image\/svg\+xml)/.test(type ?? '');
