import type { MappedChannel } from '#features/shelf/model/channelMap';
import { type RefusedReading, readAnswer } from '../readAnswer';
import { LineClient } from './lineClient';
import { type Link, LinkFailure, type LinkReading, type LinkTerms } from './link';

const ASK_ERRORS_EVERY = 50;

/** SCPI over raw TCP. */
export async function openScpi({ host, port }: { host: string; port: number }, terms: LinkTerms): Promise<Link> {
  const client = await LineClient.connect(host, port, terms.timeout_ms);
  const identity = await client.query('*IDN?');
  refuseOther(`${host}:${port}`, identity, terms.identity);
  client.send('*CLS');
  return askedLink(client, terms.channels);
}

/** @throws LinkFailure where another instrument answers than its sheet says */
export function refuseOther(where: string, identity: string, wanted: string | null): void {
  if (wanted && !identity.includes(wanted))
    throw new LinkFailure(
      'other_device',
      `At ${where} answers "${identity.slice(0, 80)}"; the sheet expects "${wanted}". Its readings are not taken.`,
    );
}

/** Asks each query once a reading; now and then what the instrument has to complain about. */
function askedLink(client: LineClient, channels: MappedChannel[]): Link {
  const queries = [...new Set(channels.flatMap((c) => c.query ?? []))];
  const questions = queries.map((query) => ({ query, channels: channels.filter((c) => c.query === query) }));
  let asked = 0;
  const read = async (): Promise<LinkReading> => {
    const values = new Map<string, number>();
    const refused: RefusedReading[] = [];
    for (const question of questions) {
      const units = question.channels.map((c) => c.unit);
      const answer = readAnswer(await client.query(question.query), units);
      refused.push(...answer.refused);
      question.channels.forEach((c, i) => {
        values.set(c.name, answer.values[i]);
      });
    }
    if (asked++ % ASK_ERRORS_EVERY === 0) {
      const answer = await client.query('SYST:ERR?');
      if (!/^[+-]?0\b/.test(answer)) refused.push({ code: 'instrument_error', message: `It reports ${answer.slice(0, 80)}.` });
    }
    return { values, refused };
  };
  return { read, send: (text) => client.send(text), close: () => client.close() };
}
