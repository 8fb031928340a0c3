import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';

/** A tree of the kernel's files; another root than `/` is a copy of one. */
export class KernelTree {
  constructor(private readonly root = '/') {}

  /** Entries of a folder by name, in the order of their numbers; none where there is no such folder. */
  list(folder: string): string[] {
    try {
      return readdirSync(path.join(this.root, folder)).sort((a, b) => a.localeCompare(b, 'en', { numeric: true }));
    } catch {
      return [];
    }
  }

  /** Text of a file without its end; null where it cannot be read. */
  text(file: string): string | null {
    try {
      return readFileSync(path.join(this.root, file), 'utf8').trim();
    } catch {
      return null;
    }
  }

  /** The whole number that a file holds; null where it holds none. */
  number(file: string): number | null {
    const text = this.text(file);
    return text !== null && /^-?\d+$/.test(text) ? Number(text) : null;
  }

  /** True where a file is there and we are not let in. */
  isClosed(file: string): boolean {
    try {
      readFileSync(path.join(this.root, file));
      return false;
    } catch (error) {
      return ['EACCES', 'EPERM'].includes((error as NodeJS.ErrnoException).code ?? '');
    }
  }
}

/** A figure within what its quantity can be; null for what cannot be, such as what a sensor says that is not connected. */
export const within = (value: number | null, [low, high]: readonly [number, number]): number | null =>
  value !== null && value >= low && value <= high ? value : null;

/** What a reading can be; boards that leave an input open report values beyond. */
export const CAN_BE = {
  temperature_c: [-40, 150],
  fan_rpm: [0, 30_000],
  power_w: [0, 5000],
  voltage_v: [-60, 400],
  current_a: [-1000, 1000],
  clock_mhz: [1, 20_000],
} as const;
