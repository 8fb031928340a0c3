import { LogError } from './types';

/** Most bytes of one log read at once. */
export const MAX_LOG_BYTES = 256 * 1024 * 1024;
/** Most log files of one run. */
export const MAX_RUN_FILES = 6;

/** Encoding of a log, told from its beginning: UTF-8 with or without byte order mark, UTF-16 with one, else Windows-1252. */
export interface Encoding {
  name: string;
  label: 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';
  /** bytes of the mark */
  skip: number;
}

export function guessEncoding(bytes: Uint8Array): Encoding {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return { label: 'utf-8', name: 'UTF-8 with mark', skip: 3 };
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return { label: 'utf-16le', name: 'UTF-16', skip: 2 };
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return { label: 'utf-16be', name: 'UTF-16', skip: 2 };
  try {
    // as a stream, so that a letter cut by the end of the beginning is no fault
    new TextDecoder('utf-8', { fatal: true }).decode(bytes, { stream: true });
    return { label: 'utf-8', name: 'UTF-8', skip: 0 };
  } catch {
    return { label: 'windows-1252', name: 'Windows-1252', skip: 0 };
  }
}

/** @throws LogError where the beginning of a file is no text */
export function refuseBinary(file: string, head: string): void {
  const sample = head.slice(0, 4096);
  let control = 0;
  for (let i = 0; i < sample.length; i++) {
    const code = sample.charCodeAt(i);
    if (code === 0xfffd || (code < 32 && code !== 9 && code !== 10 && code !== 13 && code !== 12)) control++;
  }
  if (control > Math.max(2, sample.length * 0.01) || sample.includes('\0'))
    throw new LogError(file, 'this is not a text file; export the log as CSV or tab-separated text.');
}

/** @throws LogError for a file of more bytes than are read */
export function refuseLarge(file: string, bytes: number): void {
  if (bytes > MAX_LOG_BYTES)
    throw new LogError(file, `the file has ${Math.round(bytes / 1048576)} MB; up to ${MAX_LOG_BYTES / 1048576} MB are read.`);
}

/**
 * Text of a whole file.
 * @throws LogError for an empty, too large or binary file
 */
export function decodeText(file: string, bytes: Uint8Array): string {
  if (bytes.length === 0) throw new LogError(file, 'the file is empty.');
  refuseLarge(file, bytes.length);
  const { label, skip } = guessEncoding(bytes);
  const text = new TextDecoder(label).decode(bytes.subarray(skip));
  refuseBinary(file, text);
  return text;
}
