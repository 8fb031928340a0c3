import { readFileSync, statSync } from 'node:fs';
import { InvalidArgumentError } from 'commander';

/** A wrong option or input, told in one sentence. */
export class UsageError extends Error {}

/** Parses a number option inside a range. */
export const number =
  (low = Number.NEGATIVE_INFINITY, high = Number.POSITIVE_INFINITY): ((text: string) => number) =>
  (text) => {
    const value = Number(text);
    if (text.trim() === '' || !Number.isFinite(value)) throw new InvalidArgumentError(`"${text}" is not a number.`);
    if (value < low || value > high) throw new InvalidArgumentError(`${text} is outside ${low} to ${high}.`);
    return value;
  };

/** Collects NAME=VALUE pairs of a repeatable option; the name may hold an equals sign itself. */
export const pairs =
  <T>(read: (text: string) => T): ((text: string, sofar?: Record<string, T>) => Record<string, T>) =>
  (text, sofar = {}) => {
    const at = text.lastIndexOf('=');
    if (at < 1) throw new InvalidArgumentError(`"${text}" should be NAME=VALUE.`);
    return { ...sofar, [text.slice(0, at)]: read(text.slice(at + 1)) };
  };

/** Parses one of a list of words. */
export const oneOf =
  <T extends string>(words: readonly T[]): ((text: string) => T) =>
  (text) => {
    if (!(words as readonly string[]).includes(text)) throw new InvalidArgumentError(`"${text}" is not one of ${words.join(', ')}.`);
    return text as T;
  };

/** Bytes of a file, with a sentence where it cannot be read. */
export function readBytes(path: string): Uint8Array {
  try {
    if (statSync(path).isDirectory()) throw new UsageError(`${path} is a folder; name a file.`);
    return readFileSync(path);
  } catch (error) {
    if (error instanceof UsageError) throw error;
    const code = (error as NodeJS.ErrnoException).code;
    throw new UsageError(
      `${path}: ${code === 'ENOENT' ? 'there is no such file.' : code === 'EACCES' ? 'the file may not be read.' : `the file cannot be read (${code}).`}`,
    );
  }
}

/** Parses a whole number inside a range. */
export function whole(low: number, high: number): (text: string) => number {
  const read = number(low, high);
  return (text) => {
    const value = read(text);
    if (!Number.isInteger(value)) throw new InvalidArgumentError(`${text} is not a whole number.`);
    return value;
  };
}
