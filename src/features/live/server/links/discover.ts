import { setTimeout as sleep } from 'node:timers/promises';
import type { Unit } from '#core/units/units';
import { parseUnit } from '#core/units/units';
import type { SerialLine, SourceAddress } from '#features/shelf/model/sourceAddress';
import { readLogFile } from '../fileCollector';
import { openPage, type Page } from './httpLink';
import { LONGEST_JSON } from './jsonValue';
import { LineClient } from './lineClient';
import { LinkFailure } from './link';
import { readBlock, type Server } from './modbusLink';
import { type Broker, connectTo } from './mqttLink';
import { openPort } from './serialLink';

/** A figure that came, before anybody named it. */
export interface Found {
  query: string;
  name: string;
  unit: Unit | null;
  text: string;
  value: number;
  kept?: boolean;
}

interface Discovery {
  see: (found: Found) => void;
  identify: (identity: string) => void;
  signal: AbortSignal;
}

const WAIT_MS = 3000;
const EVERY_MS = 1000;
/** Registers of each table that are looked at. */
const REGISTERS = 32;
const DEEPEST = 8;

/**
 * Takes whatever an instrument sends or shows, until it is told to stop, without anybody having said what there is. Of one that speaks
 * SCPI only who it is can be had: what it can be asked stands in its manual.
 * @throws LinkFailure
 */
export function discover(address: SourceAddress, terms: Discovery): Promise<void> {
  switch (address.kind) {
    case 'mqtt':
      return discoverTopics(address, terms);
    case 'http':
      return discoverPage(address, terms);
    case 'serial':
      return discoverLines(address, terms);
    case 'modbus':
      return discoverRegisters(address, terms);
    case 'scpi':
      return identify(address, terms);
    case 'file':
      return discoverColumns(address, terms);
    case 'push':
      throw new LinkFailure('refused', 'What an instrument pushes is seen at its run; there is nothing to ask.');
  }
}

const until = (signal: AbortSignal): Promise<void> => new Promise((done) => signal.addEventListener('abort', () => done(), { once: true }));

async function everySecond(signal: AbortSignal, work: () => Promise<void>): Promise<void> {
  while (!signal.aborted) {
    await work();
    await sleep(EVERY_MS, undefined, { signal }).catch(() => {});
  }
}

/** Figures of JSON with the names that lead to them. */
export function figuresOf(json: unknown, path: string[] = []): { path: string[]; text: string; value: number; unit: Unit | null }[] {
  if (typeof json === 'number') return [{ path, text: String(json), value: json, unit: null }];
  if (typeof json === 'boolean') return [{ path, text: String(json), value: json ? 1 : 0, unit: null }];
  if (typeof json === 'string') {
    const read = readFigure(json);
    return read ? [{ path, ...read }] : [];
  }
  if (typeof json !== 'object' || json === null || path.length >= DEEPEST) return [];
  // a name with a dot cannot be written as a place
  return Object.entries(json).flatMap(([key, inner]) => (key.includes('.') || key === '' ? [] : figuresOf(inner, [...path, key])));
}

/** A figure with or without its unit; null where a text is none. */
function readFigure(said: string): { text: string; value: number; unit: Unit | null } | null {
  const read = /^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)\s*([a-z%°]*)$/i.exec(said.trim());
  if (!read || !Number.isFinite(Number(read[1]))) return null;
  return { text: said.trim(), value: Number(read[1]), unit: read[2] ? parseUnit(read[2]) : null };
}

async function discoverTopics(broker: Broker, { see, signal }: Discovery): Promise<void> {
  const client = await connectTo(broker, WAIT_MS, 4);
  try {
    client.on('message', (topic, payload, { retain }) => {
      if (payload.length > LONGEST_JSON || topic.startsWith('$')) return;
      const text = payload.toString('utf8').trim();
      let json: unknown = text;
      try {
        json = JSON.parse(text);
      } catch {
        // plain text is a figure by itself, or nothing
      }
      const last = topic.split('/').at(-1) as string;
      for (const { path, ...figure } of figuresOf(json))
        see({
          query: path.length === 0 ? topic : `${topic} -> ${path.join('.')}`,
          name: path.length === 0 ? topic : [last, ...path].join(' '),
          kept: retain,
          ...figure,
        });
    });
    await client.subscribeAsync('#', { qos: 0 });
    await until(signal);
  } finally {
    client.end(true);
  }
}

async function discoverPage(page: Page, { see, signal }: Discovery): Promise<void> {
  const { ask, close } = await openPage(page, WAIT_MS);
  try {
    await everySecond(signal, async () => {
      const text = await ask();
      let json: unknown;
      try {
        json = JSON.parse(text);
      } catch {
        throw new LinkFailure('refused', `${page.host}${page.path} is not JSON but "${text.slice(0, 60)}".`);
      }
      for (const { path, ...figure } of figuresOf(json))
        if (path.length > 0) see({ query: path.join('.'), name: path.join(' '), ...figure });
    });
  } finally {
    close();
  }
}

async function discoverLines(line: SerialLine, { see, signal }: Discovery): Promise<void> {
  const port = await openPort(line);
  let rest = '';
  let whole = false;
  port.setEncoding('latin1');
  port.on('data', (text: string) => {
    const lines = `${rest}${text}`.split('\n');
    rest = (lines.pop() ?? '').slice(-4096);
    for (const one of lines) {
      if (whole) for (const found of figuresOfLine(one.trim())) see(found);
      whole = true;
    }
  });
  const gone = new Promise<void>((_, failed) => {
    port.once('close', () => !signal.aborted && failed(new LinkFailure('dropped', 'The line was unplugged or closed.')));
  });
  try {
    await Promise.race([until(signal), gone]);
  } finally {
    port.close(() => {});
  }
}

/** Figures of a line of text: after their names where it names them, else by their columns. */
export function figuresOfLine(line: string): Found[] {
  const named = [...line.matchAll(/([A-Za-z][\w .-]{0,30}?)\s*[:=]\s*([^\s,;]+)/g)];
  if (named.length > 0)
    return named.flatMap(([whole, name, said]) => {
      const figure = readFigure(said);
      // what stands before the figure, as it is written in the line
      return figure ? [{ query: `${whole.slice(0, whole.length - said.length)}{}`, name: name.trim(), ...figure }] : [];
    });
  return line.split(/\s*[,;\t]\s*|\s+/).flatMap((cell, i) => {
    const figure = readFigure(cell);
    return figure ? [{ query: `{${i + 1}}`, name: `Column ${i + 1}`, ...figure }] : [];
  });
}

async function discoverRegisters(server: Server, { see, signal }: Discovery): Promise<void> {
  await everySecond(signal, async () => {
    let any = false;
    for (const table of ['input', 'holding'] as const) {
      const bytes = await readBlock(server, table, REGISTERS, WAIT_MS);
      if (!bytes) continue;
      any = true;
      for (let i = 0; i < bytes.length / 2; i++) {
        const name = `${table} ${i}`;
        const put = (type: string, value: number) =>
          see({ query: `${table} ${i} ${type}`, name: `${name} ${type}`, unit: null, text: String(Number(value.toPrecision(7))), value });
        put('int16', bytes.readInt16BE(2 * i));
        if (2 * i + 4 > bytes.length) continue;
        const float = bytes.readFloatBE(2 * i);
        // bits that are no float give figures that nobody measures
        if (Math.abs(float) > 1e-3 && Math.abs(float) < 1e6) put('float32', float);
      }
    }
    if (!any) throw new LinkFailure('refused', `It has none of its first ${REGISTERS} registers; its manual says where they are.`);
  });
}

async function identify({ host, port }: { host: string; port: number }, { identify: tell }: Discovery): Promise<void> {
  const client = await LineClient.connect(host, port, WAIT_MS);
  try {
    tell((await client.query('*IDN?')).slice(0, 200));
  } finally {
    client.close();
  }
}

async function discoverColumns({ file }: { file: string }, { see, signal }: Discovery): Promise<void> {
  let rows = -1;
  await everySecond(signal, async () => {
    const log = await readLogFile(file);
    if (log.t.length === rows) return;
    rows = log.t.length;
    for (const { name, unit, values } of log.columns) {
      const value = values[values.length - 1];
      if (!Number.isNaN(value)) see({ query: '', name, unit, text: String(Number(value.toPrecision(7))), value });
    }
  });
}
