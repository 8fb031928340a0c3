/** Speed and frame of a serial line. */
export interface SerialLine {
  device: string;
  baud: number;
  bits: 7 | 8;
  parity: 'none' | 'even' | 'odd';
  stops: 1 | 2;
}

/** Where an instrument is reached. */
export type SourceAddress =
  /** SCPI over TCP */
  | { kind: 'scpi'; host: string; port: number }
  /** topics of an MQTT broker */
  | { kind: 'mqtt'; host: string; port: number; tls: boolean }
  /** registers of a Modbus TCP server */
  | { kind: 'modbus'; host: string; port: number; unit: number }
  | ({ kind: 'serial' } & SerialLine)
  /** a page of JSON that is asked for again and again */
  | { kind: 'http'; host: string; port: number; path: string; tls: boolean }
  /** a log that grows in the folder of logs */
  | { kind: 'file'; file: string }
  /** the instrument sends by itself */
  | { kind: 'push' };

export type SourceKind = SourceAddress['kind'];

type Problem = { problem: string };

const HOST = String.raw`([a-z0-9](?:[a-z0-9.-]{0,98}[a-z0-9])?|\[[0-9a-f:]+\])`;
const FORMS =
  'Write an address as host:port (SCPI), mqtt://host, modbus://host, serial:/dev/ttyUSB0, http://host/path, file:NAME of a log that grows, or as push.';
/** Lines that an instrument hangs on; consoles and disks are none. */
const SERIAL_DEVICE = /^\/dev\/(tty(USB|ACM|S|AMA|XRUSB)\d{1,3}|rfcomm\d{1,3}|pts\/\d{1,4}|serial\/by-(id|path)\/[\w.:+-]{1,160})$/;
const PARITIES = { N: 'none', E: 'even', O: 'odd' } as const;

/**
 * Addresses as they are written on an instrument's sheet.
 * @example readAddress('modbus://10.0.0.7/3') // { kind: 'modbus', host: '10.0.0.7', port: 502, unit: 3 }
 */
export function readAddress(text: string): SourceAddress | Problem {
  const said = text.trim();
  if (said === 'push') return { kind: 'push' };
  const scheme = /^([a-z]+):/i.exec(said)?.[1].toLowerCase();
  switch (scheme) {
    case 'file':
      return readFile(said.slice(5).trim());
    case 'serial':
      return readSerial(said.slice(7).trim());
    case 'mqtt':
    case 'mqtts':
      return readBroker(said, scheme === 'mqtts');
    case 'modbus':
      return readModbus(said);
    case 'http':
    case 'https':
      return readPage(said);
  }
  const tcp = new RegExp(`^${HOST}:(\\d{1,5})$`, 'i').exec(said);
  if (!tcp || !isPort(Number(tcp[2]))) return { problem: FORMS };
  return { kind: 'scpi', host: bare(tcp[1]), port: Number(tcp[2]) };
}

const isPort = (port: number): boolean => port >= 1 && port <= 65_535;
const bare = (host: string): string => host.replace(/^\[|\]$/g, '');

function readFile(file: string): SourceAddress | Problem {
  if (!/^[\w][\w .()-]{0,119}$/.test(file))
    return { problem: 'A file is named without its folder, in letters, digits, spaces, dots and dashes.' };
  return { kind: 'file', file };
}

function readSerial(text: string): SourceAddress | Problem {
  const example = 'write it as serial:/dev/ttyUSB0, or with its speed and frame as serial:/dev/ttyUSB0 9600 8N1.';
  const [device = '', baud = '9600', frame = '8N1', ...rest] = text.split(/\s+/);
  if (!SERIAL_DEVICE.test(device)) return { problem: `"${device}" is no serial line: ${example}` };
  const read = /^([78])([NEO])([12])$/i.exec(frame);
  if (!/^\d{2,7}$/.test(baud) || Number(baud) < 50 || Number(baud) > 4_000_000)
    return { problem: `"${baud}" is not a speed in baud: ${example}` };
  if (!read || rest.length > 0) return { problem: `"${[frame, ...rest].join(' ')}" is not a frame such as 8N1: ${example}` };
  const parity = PARITIES[read[2].toUpperCase() as keyof typeof PARITIES];
  return { kind: 'serial', device, baud: Number(baud), bits: Number(read[1]) as 7 | 8, parity, stops: Number(read[3]) as 1 | 2 };
}

function readBroker(text: string, tls: boolean): SourceAddress | Problem {
  const read = new RegExp(`^mqtts?://${HOST}(?::(\\d{1,5}))?/?$`, 'i').exec(text);
  const port = Number(read?.[2] ?? (tls ? 8883 : 1883));
  if (!read || !isPort(port))
    return {
      problem:
        'Write a broker as mqtt://host or mqtt://host:port, mqtts:// where it is encrypted. A login does not stand here: WARM_GAUGE_BROKER_LOGINS holds it (see the README).',
    };
  return { kind: 'mqtt', host: bare(read[1]), port, tls };
}

function readModbus(text: string): SourceAddress | Problem {
  const read = new RegExp(`^modbus://${HOST}(?::(\\d{1,5}))?(?:/(\\d{1,3}))?/?$`, 'i').exec(text);
  const [port, unit] = [Number(read?.[2] ?? 502), Number(read?.[3] ?? 1)];
  if (!read || !isPort(port) || unit > 255)
    return { problem: 'Write a Modbus server as modbus://host, or with port and unit as modbus://host:502/1; units go up to 255.' };
  return { kind: 'modbus', host: bare(read[1]), port, unit };
}

function readPage(text: string): SourceAddress | Problem {
  const problem = 'Write a page of readings as http://host/path or http://host:port/path, without a login.';
  if (!URL.canParse(text)) return { problem };
  const url = new URL(text);
  const tls = url.protocol === 'https:';
  if (url.username || url.password || url.hash || !new RegExp(`^${HOST}$`, 'i').test(url.hostname)) return { problem };
  return { kind: 'http', host: bare(url.hostname), port: Number(url.port || (tls ? 443 : 80)), path: url.pathname + url.search, tls };
}

/** An address in words, for who looks at a run. */
export function addressWords(address: SourceAddress): string {
  switch (address.kind) {
    case 'scpi':
      return `${address.host}:${address.port}`;
    case 'mqtt':
      return `broker ${address.host}:${address.port}`;
    case 'modbus':
      return `Modbus ${address.host}:${address.port}, unit ${address.unit}`;
    case 'serial':
      return `${address.device}, ${address.baud} baud`;
    case 'http':
      return `${address.host}:${address.port}${address.path}`;
    case 'file':
      return address.file;
    case 'push':
      return 'pushes by itself';
  }
}
