import { appendFileSync, existsSync, writeFileSync } from 'node:fs';
import { UNITS } from '#core/units/units';
import type { Channel } from '../channels/types';

/** Writes readings as a log that Warm Gauge reads, a line each. */
export class CsvLog {
  /** @param file `-` for standard output */
  constructor(
    private readonly file: string,
    private readonly channels: Pick<Channel, 'name' | 'unit'>[],
  ) {
    const head = ['Time', ...channels.map((c) => quoted(c.unit ? `${c.name} (${UNITS[c.unit].symbol})` : c.name))].join(',');
    if (file === '-') process.stdout.write(`${head}\n`);
    else if (existsSync(file)) throw new Error(`There is a file ${file}; name another, or move it away.`);
    else writeFileSync(file, `${head}\n`);
  }

  write(t: number, values: Record<string, number | null>): void {
    const figures = this.channels.map((c) => (values[c.name] === null ? '' : String(Number((values[c.name] as number).toFixed(4)))));
    const line = `${[new Date(Math.round(1000 * t)).toISOString(), ...figures].join(',')}\n`;
    if (this.file === '-') process.stdout.write(line);
    else appendFileSync(this.file, line);
  }
}

const quoted = (text: string): string => (/[",]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
