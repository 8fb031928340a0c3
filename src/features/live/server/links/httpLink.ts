import http from 'node:http';
import https from 'node:https';
import { isIP } from 'node:net';
import { queriesOf } from '#features/shelf/model/channelMap';
import type { RefusedReading } from '../readAnswer';
import { figureOf, LONGEST_JSON, valueAt } from './jsonValue';
import { type Link, LinkFailure, type LinkTerms } from './link';
import { reachedAddress, unreachable } from './reachedAddress';

export interface Page {
  host: string;
  port: number;
  path: string;
  tls: boolean;
}

/** A page that is asked for again and again over one connection; where it leads elsewhere is not followed. */
export async function openPage(page: Page, timeout_ms: number): Promise<{ ask: () => Promise<string>; close: () => void }> {
  const address = await reachedAddress(page.host, page.port);
  const agent = page.tls ? new https.Agent({ keepAlive: true, maxSockets: 1 }) : new http.Agent({ keepAlive: true, maxSockets: 1 });
  return { ask: () => ask(page, address, agent, timeout_ms), close: () => agent.destroy() };
}

/** A page of JSON, asked for at each reading. */
export async function openHttp(page: Page, { channels, timeout_ms }: LinkTerms): Promise<Link> {
  const { ask, close } = await openPage(page, timeout_ms);
  const wanted = queriesOf('http', channels);
  const read = async () => readPage(await ask(), wanted);
  // what answers is known before it counts as connected
  try {
    await read();
  } catch (error) {
    close();
    throw error;
  }
  return { read, close };
}

function readPage(text: string, wanted: ReturnType<typeof queriesOf<'http'>>) {
  const values = new Map<string, number>();
  const refused: RefusedReading[] = [];
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    for (const { channel } of wanted) values.set(channel.name, Number.NaN);
    return { values, refused: [{ code: 'nonsense' as const, message: `"${text.slice(0, 60)}" is not JSON.` }] };
  }
  for (const { channel, query } of wanted) {
    const figure = figureOf(valueAt(json, query.path), channel.unit, channel.query ?? '');
    values.set(channel.name, figure.value);
    refused.push(...figure.refused);
  }
  return { values, refused };
}

function ask({ host, port, path, tls }: Page, address: string, agent: http.Agent, timeout_ms: number): Promise<string> {
  return new Promise((done, failed) => {
    const fail = (failure: LinkFailure) => {
      clearTimeout(timer);
      request.destroy();
      failed(failure);
    };
    const timer = setTimeout(
      () => fail(new LinkFailure('timeout', `No answer from ${host}${path} within ${timeout_ms / 1000} s.`)),
      timeout_ms,
    );
    const options = { host: address, port, path, agent, headers: { host: `${host}:${port}`, accept: 'application/json' } };
    const take = (answer: http.IncomingMessage) => {
      if (answer.statusCode !== 200) {
        fail(new LinkFailure('refused', `${host}${path} answers with status ${answer.statusCode}.`));
        return;
      }
      let text = '';
      answer.setEncoding('utf8').on('data', (part) => {
        text += part;
        if (text.length > LONGEST_JSON) fail(new LinkFailure('too_long', `${host}${path} sends more than ${LONGEST_JSON / 1024} kB.`));
      });
      answer.on('error', () => fail(new LinkFailure('dropped', 'The connection was cut.')));
      answer.on('end', () => {
        clearTimeout(timer);
        done(text);
      });
    };
    const request = tls ? https.get({ ...options, ...(isIP(host) === 0 ? { servername: host } : {}) }, take) : http.get(options, take);
    request.on('error', (e: NodeJS.ErrnoException) =>
      fail(e.code === 'ECONNRESET' ? new LinkFailure('dropped', 'The connection was cut.') : unreachable(host, port, e.code)),
    );
  });
}
