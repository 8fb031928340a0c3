import { isIP } from 'node:net';
import type { IClientOptions, IPublishPacket, MqttClient } from 'mqtt';
import { queriesOf } from '#features/shelf/model/channelMap';
import { Gathered } from './gathered';
import { figureOf, LONGEST_JSON, valueAt } from './jsonValue';
import { inTime, type Link, LinkFailure, type LinkTerms } from './link';
import { reachedAddress, unreachable } from './reachedAddress';

/** CONNACK of MQTT 3.1.1 §3.2.2.3 */
const UNKNOWN_VERSION = 1;
const LOGIN_REFUSED = [4, 5, 134, 135];
/** SUBACK of MQTT 3.1.1 §3.9.3: from here on a topic was refused. */
const REFUSED = 128;

export interface Broker {
  host: string;
  port: number;
  tls: boolean;
}

/**
 * Topics of a broker, as their messages come (MQTT 3.1.1; 5 where the broker takes no other). A message that the broker kept from before is
 * of unknown age and is no reading, and none is kept for the time the line is down: a message has the time at which it arrives.
 */
export async function openMqtt(broker: Broker, terms: LinkTerms, period_ms: number): Promise<Link> {
  const client = await connectTo(broker, terms.timeout_ms, 4);
  const wanted = queriesOf('mqtt', terms.channels);
  const gathered = new Gathered(
    terms.channels.map((c) => c.name),
    period_ms,
    terms.give,
  );
  const told = (code: 'retained' | 'nonsense' | 'not_a_number', message: string) =>
    terms.give({ values: new Map(), refused: [{ code, message }] });
  client.on('message', (topic: string, payload: Buffer, packet: IPublishPacket) => {
    if (packet.retain) return told('retained', `The broker’s kept value of ${topic} is of unknown age and is not taken.`);
    if (payload.length > LONGEST_JSON) return told('nonsense', `A message of ${topic} has more than ${LONGEST_JSON / 1024} kB.`);
    const text = payload.toString('utf8').trim();
    const read = json(text);
    for (const { channel, query } of wanted.filter((w) => w.query.topic === topic)) {
      const figure = figureOf(query.path.length === 0 ? text : valueAt(read, query.path), channel.unit, channel.query ?? '');
      for (const r of figure.refused) terms.give({ values: new Map(), refused: [r] });
      gathered.take(channel.name, figure.value);
    }
  });
  const ended = new Promise<LinkFailure>((done) => {
    client.once('close', () => done(new LinkFailure('dropped', 'The broker cut the connection.')));
  });
  const close = () => {
    gathered.close();
    client.end(true);
  };
  try {
    await subscribe(client, [...new Set(wanted.map((w) => w.query.topic))], terms.timeout_ms);
  } catch (error) {
    close();
    throw error;
  }
  return { ended, close };
}

/** What a text holds as JSON; undefined, which has no places, where it is none. */
function json(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** A connection to a broker that has let us in. @throws LinkFailure */
export async function connectTo({ host, port, tls }: Broker, timeout_ms: number, protocolVersion: 4 | 5): Promise<MqttClient> {
  const address = await reachedAddress(host, port);
  const { connect } = (await import('mqtt')).default;
  const options: IClientOptions = {
    ...{ protocol: tls ? 'mqtts' : 'mqtt', host: address, port, protocolVersion, reconnectPeriod: 0, connectTimeout: timeout_ms },
    ...{ clean: true, keepalive: 15, resubscribe: false, clientId: `warm-gauge-${Math.random().toString(36).slice(2, 10)}` },
    ...(tls && isIP(host) === 0 ? { servername: host } : {}),
    ...loginOf(host, port),
  };
  const client = connect(options);
  const opened = new Promise<void>((done, failed) => {
    client.once('connect', () => done());
    client.once('error', failed);
    client.once('close', () => failed(new LinkFailure('unreachable', `${host}:${port} ends the connection: is it a broker?`)));
  });
  try {
    await inTime(opened, timeout_ms, () => unreachable(host, port, 'ETIMEDOUT'));
    // later ones end the connection, which is heard
    client.on('error', () => {});
    return client;
  } catch (error) {
    client.on('error', () => {});
    client.end(true);
    const { code } = error as { code?: string | number };
    if (code === UNKNOWN_VERSION && protocolVersion === 4) return connectTo({ host, port, tls }, timeout_ms, 5);
    if (error instanceof LinkFailure) throw error;
    if (LOGIN_REFUSED.includes(code as number))
      throw new LinkFailure(
        'refused',
        `${host}:${port} refuses the login; WARM_GAUGE_BROKER_LOGINS holds it as ${host}:${port}=name:password.`,
      );
    throw typeof code === 'string' && /^E[A-Z]+$/.test(code)
      ? unreachable(host, port, code)
      : new LinkFailure(
          'unreachable',
          `${host}:${port} cannot be used: ${(error as Error).message}.${tls ? ' Where your lab signs its certificates itself, NODE_EXTRA_CA_CERTS names the file of who signs them.' : ''}`,
        );
  }
}

/** The login of a broker; it stands in the environment, so that no sheet, package or backup carries a password. */
function loginOf(host: string, port: number): Pick<IClientOptions, 'username' | 'password'> {
  const said = (process.env.WARM_GAUGE_BROKER_LOGINS ?? '').split(',').map((entry) => entry.trim());
  const own = said.find((entry) => entry.startsWith(`${host}:${port}=`))?.slice(`${host}:${port}=`.length);
  const at = own?.indexOf(':') ?? -1;
  return own === undefined || at < 0 ? {} : { username: own.slice(0, at), password: own.slice(at + 1) };
}

async function subscribe(client: MqttClient, topics: string[], timeout_ms: number): Promise<void> {
  const granted = await inTime(
    client.subscribeAsync(topics, { qos: 1 }),
    timeout_ms,
    () => new LinkFailure('timeout', 'The broker does not answer what is subscribed.'),
  ).catch((error) => {
    if (error instanceof LinkFailure) throw error;
    throw new LinkFailure('refused', `The broker refuses ${topics.join(', ')}: ${(error as Error).message}.`);
  });
  const refused = granted.filter((g) => g.qos >= REFUSED).map((g) => g.topic);
  if (refused.length > 0) throw new LinkFailure('refused', `The broker does not let ${refused.join(', ')} be read.`);
}
