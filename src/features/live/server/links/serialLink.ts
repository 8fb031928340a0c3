import { type MappedChannel, queriesOf } from '#features/shelf/model/channelMap';
import type { LinePlace } from '#features/shelf/model/channelQuery';
import type { SerialLine } from '#features/shelf/model/sourceAddress';
import { type RefusedReading, readAnswer } from '../readAnswer';
import { Gathered } from './gathered';
import { LineClient } from './lineClient';
import { type Link, LinkFailure, type LinkTerms } from './link';
import { refuseOther } from './scpiLink';

const LONGEST_LINE = 4096;
/** A line that is asked has to be silent for one wait before; it gets so many. */
const WAITS_FOR_SILENCE = 4;

/** A serial line, whose instrument is asked line by line or sends by itself. */
export async function openSerial(line: SerialLine, terms: LinkTerms, period_ms: number): Promise<Link> {
  const wanted = queriesOf('serial', terms.channels);
  const port = await openPort(line);
  if (wanted.every((w) => w.query.ask === null)) return listen(port, wanted, terms, period_ms);
  try {
    await untilSilent(port, line.device, terms.timeout_ms);
    const client = new LineClient(port, terms.timeout_ms, () => port.close(() => {}));
    if (terms.identity) refuseOther(line.device, await client.query('*IDN?'), terms.identity);
    return { read: () => askAll(client, wanted), send: (text) => client.send(text), close: () => client.close() };
  } catch (error) {
    port.close(() => {});
    throw error;
  }
}

type Wanted = ReturnType<typeof queriesOf<'serial'>>;
type Port = InstanceType<Awaited<typeof import('serialport')>['SerialPort']>;

/** The line, opened. @throws LinkFailure where it is not there, not allowed or in use */
export async function openPort({ device, baud, bits, parity, stops }: SerialLine): Promise<Port> {
  const { SerialPort } = await import('serialport');
  const port = new SerialPort({ path: device, baudRate: baud, dataBits: bits, parity, stopBits: stops, autoOpen: false });
  port.on('error', () => {});
  await new Promise<void>((done, failed) => port.open((error) => (error ? failed(notOpened(device, error)) : done())));
  return port;
}

function notOpened(device: string, error: Error): LinkFailure {
  if (/no such file|cannot find|ENOENT/i.test(error.message))
    return new LinkFailure('unreachable', `There is no ${device}: is it plugged in?`);
  if (/permission|EACCES/i.test(error.message))
    return new LinkFailure(
      'refused',
      `${device} may not be opened by this user; on most Linux systems it has to be a member of the group dialout, after which it logs in anew.`,
    );
  if (/lock|busy/i.test(error.message)) return new LinkFailure('refused', `${device} is held by another program; end it there.`);
  return new LinkFailure('unreachable', `${device} cannot be opened (${error.message.slice(0, 80)}).`);
}

/** What an earlier question still brings would be taken for the answer of the first: it is waited for and thrown away. */
function untilSilent(port: Port, device: string, quiet_ms: number): Promise<void> {
  return new Promise((done, failed) => {
    const end = (error: LinkFailure | null) => {
      clearTimeout(quiet);
      clearTimeout(late);
      port.off('data', heard);
      if (error) failed(error);
      else done();
    };
    const heard = () => quiet.refresh();
    const quiet = setTimeout(() => end(null), quiet_ms);
    const late = setTimeout(
      () => end(new LinkFailure('refused', `${device} sends by itself; listen to its lines, as with "T1={}", instead of asking.`)),
      WAITS_FOR_SILENCE * quiet_ms,
    );
    port.on('data', heard);
  });
}

async function askAll(client: LineClient, wanted: Wanted) {
  const values = new Map<string, number>();
  const refused: RefusedReading[] = [];
  for (const ask of new Set(wanted.flatMap((w) => w.query.ask ?? []))) {
    const answer = await client.query(ask);
    for (const { channel, query } of wanted.filter((w) => w.query.ask === ask)) {
      const figure = figureIn(answer, query.place, channel);
      values.set(channel.name, figure?.value ?? Number.NaN);
      refused.push(
        ...(figure?.refused ?? [{ code: 'nonsense' as const, message: `"${short(answer)}" has no figure of ${channel.name}.` }]),
      );
    }
  }
  return { values, refused };
}

function listen(port: Port, wanted: Wanted, terms: LinkTerms, period_ms: number): Link {
  const gathered = new Gathered(
    wanted.map((w) => w.channel.name),
    period_ms,
    terms.give,
  );
  let rest = '';
  // the line is entered somewhere within a message, which may have lost its beginning
  let whole = false;
  const take = (text: string) => {
    let told = 0;
    for (const { channel, query } of wanted) {
      const figure = figureIn(text, query.place, channel);
      if (!figure) continue;
      told++;
      for (const r of figure.refused) terms.give({ values: new Map(), refused: [r] });
      gathered.take(channel.name, figure.value);
    }
    if (told === 0 && text !== '')
      terms.give({ values: new Map(), refused: [{ code: 'nonsense', message: `"${short(text)}" has no figure of its channels.` }] });
  };
  port.setEncoding('latin1');
  port.on('data', (text: string) => {
    rest += text;
    const lines = rest.split('\n');
    rest = lines.pop() ?? '';
    if (rest.length > LONGEST_LINE) {
      rest = '';
      whole = false;
    }
    for (const line of lines) {
      if (whole) take(line.trim());
      whole = true;
    }
  });
  const ended = new Promise<LinkFailure>((done) => {
    port.once('close', () => done(new LinkFailure('dropped', 'The line was unplugged or closed.')));
  });
  return {
    ended,
    close: () => {
      gathered.close();
      port.close(() => {});
    },
  };
}

const short = (text: string): string => (text.length > 60 ? `${text.slice(0, 60)}…` : text);

/** The figure of a line at its place, in the core's units; null where the line has no such place. */
export function figureIn(line: string, place: LinePlace, { unit }: MappedChannel): { value: number; refused: RefusedReading[] } | null {
  const text = textAt(line, place);
  if (text === null) return null;
  const { values, refused } = readAnswer(text, [unit]);
  return { value: values[0], refused };
}

function textAt(line: string, place: LinePlace): string | null {
  if ('column' in place) return line.split(/\s*[,;\t]\s*|\s+/)[place.column - 1] ?? null;
  const at = line.indexOf(place.after);
  if (at < 0) return null;
  return /^\s*([^\s,;]+)/.exec(line.slice(at + place.after.length))?.[1] ?? null;
}
