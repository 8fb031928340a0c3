import { LogError } from './types';

/** Most bytes of one log read at once. */
export const MAX_LOG_BYTES = 64 * 1024 * 1024;
/** Most log files of one run. */
export const MAX_RUN_FILES = 6;

/**
 * Text of a log's bytes: UTF-8 with or without byte order mark, UTF-16 with one, else Windows-1252.
 * @throws LogError for an empty, too large or binary file
 */
export function decodeLog(file: string, bytes: Uint8Array): { text: string; encoding: string } {
  if (bytes.length === 0) throw new LogError(file, 'the file is empty; a log with a header and rows of readings is needed.');
  if (bytes.length > MAX_LOG_BYTES) {
    throw new LogError(file, `the file has ${Math.round(bytes.length / 1048576)} MB; up to ${MAX_LOG_BYTES / 1048576} MB are read.`);
  }
  const { label, name, skip } = guessEncoding(bytes);
  const text = new TextDecoder(label).decode(skip ? bytes.subarray(skip) : bytes);
  const sample = text.slice(0, 4096);
  let control = 0;
  for (let i = 0; i < sample.length; i++) {
    const code = sample.charCodeAt(i);
    if (code === 0xfffd || (code < 32 && code !== 9 && code !== 10 && code !== 13 && code !== 12)) control++;
  }
  if (control > Math.max(2, sample.length * 0.01) || sample.includes('\0')) {
    throw new LogError(file, 'this is not a text file; export the log as CSV or tab-separated text.');
  }
  return { text, encoding: name };
}

function guessEncoding(bytes: Uint8Array): { label: string; name: string; skip: number } {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return { label: 'utf-8', name: 'UTF-8 with mark', skip: 3 };
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return { label: 'utf-16le', name: 'UTF-16', skip: 2 };
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return { label: 'utf-16be', name: 'UTF-16', skip: 2 };
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return { label: 'utf-8', name: 'UTF-8', skip: 0 };
  } catch {
    return { label: 'windows-1252', name: 'Windows-1252', skip: 0 };
  }
}
