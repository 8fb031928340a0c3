import { database } from '#app/database/pool';
import { eventStream } from '#app/eventStream';
import { Refusal } from '#app/refusal';
import { guessRoles } from '#core/signal/logs/roles';
import { LogError } from '#core/signal/logs/types';
import { readingQuality } from '#core/signal/readingQuality';
import { UNITS } from '#core/units/units';
import { type Arriving, type ArrivingNews, apart, channelName, unitOfName } from '#features/live/model/arriving';
import { type LiveSource, type MappedChannel, readChannelMap } from '#features/shelf/model/channelMap';
import { liveProblem } from '#features/shelf/model/liveSheet';
import type { InstrumentSheet } from '#features/shelf/model/sheets';
import { readAddress } from '#features/shelf/model/sourceAddress';
import { getSheet } from '#features/shelf/store/sheets';
import { isOverLink, LinkCollector } from './linkCollector';
import { discover, type Found } from './links/discover';
import { LinkFailure } from './links/link';

const TELL_MS = 500;
/** Different things that are told of; a broker of a whole house sends more. */
const MOST_SEEN = 200;
/** Newest readings of each that are judged: of everything that comes, and of the channels whose noise is asked for. */
const MOST_READINGS = { all: 100, channels: 2400 };
const MOST_REFUSED = 5;
const LONGEST_S = 120;

/** What an instrument sends, for some seconds, as a stream that ends with the page. */
export async function arrivingEvents(id: number, what: 'all' | 'channels', lasts_s: number, signal: AbortSignal): Promise<Response> {
  const stored = await getSheet(database(), 'instruments', id);
  if (!stored) throw new Refusal(`There is no instrument ${id} on the shelf.`, 404);
  const sheet = stored.sheet as InstrumentSheet;
  const address = readAddress(sheet.address ?? '');
  if ('problem' in address) throw new Refusal(sheet.address ? address.problem : 'Its sheet has no address yet.');
  const wrong = what === 'channels' ? liveProblem(sheet) : null;
  if (wrong) throw new Refusal(wrong.problem);
  const map = readChannelMap(sheet.channels ?? '');
  if (what === 'channels' && 'problem' in map) throw new Refusal('Its sheet names no channels yet.');
  const channels = 'problem' in map ? [] : map.channels;
  const seen = new Tally(channels, MOST_READINGS[what]);
  const seconds = Math.min(LONGEST_S, Math.max(1, lasts_s));
  return eventStream(signal, (send) => {
    const ending = new AbortController();
    let over = false;
    const tell = () => send('arriving', { ...seen.news(), what, over, lasts_s: seconds } satisfies ArrivingNews);
    const stop = () => {
      over = true;
      clearInterval(timer);
      clearTimeout(end);
      ending.abort();
    };
    const timer = setInterval(tell, TELL_MS);
    const end = setTimeout(() => {
      stop();
      tell();
    }, 1000 * seconds);
    const source: LiveSource = {
      ...{ instrument_id: id, name: stored.name, address, channels, period_s: sheet.period_s ?? 1, identity: sheet.identity || null },
      ...{ switch_on: null, switch_off: null, offset: sheet.offset ?? 0, clock_offset_s: null, calibrated_until: null },
    };
    const work =
      what === 'channels' && isOverLink(source)
        ? watchChannels(source, seen, ending.signal)
        : discover(address, { see: (f) => seen.see(f), identify: (text) => seen.identify(text), signal: ending.signal });
    work.catch((error) => {
      // what it was at when it was over has nothing to tell
      if (over) return;
      seen.fail(error);
      stop();
      tell();
    });
    return stop;
  });
}

/** Reads the channels of a sheet as a live run does. */
function watchChannels(source: ConstructorParameters<typeof LinkCollector>[0], seen: Tally, signal: AbortSignal): Promise<void> {
  const clock = { now: () => seen.elapsed(), scale: 1 };
  const collector = new LinkCollector(source, clock, {
    onReading: ({ t, values }) => seen.read(t, values),
    onState: ({ problem }) => {
      if (problem !== undefined) seen.problem = problem;
    },
    onRefusal: (_code, message) => seen.refuse(message),
  });
  collector.start();
  return new Promise((done) =>
    signal.addEventListener('abort', () => {
      collector.stop();
      done();
    }),
  );
}

/** Counts what came. */
class Tally {
  problem: string | null = null;
  private identity: string | null = null;
  private readonly began = performance.now();
  private readonly found = new Map<string, { first: Found; text: string; kept: boolean; t: number[]; values: number[] }>();
  private readonly refused: string[] = [];

  constructor(
    private readonly channels: MappedChannel[],
    private readonly most: number,
  ) {}

  elapsed(): number {
    return (performance.now() - this.began) / 1000;
  }

  see(found: Found, t = this.elapsed()): void {
    const key = found.query || found.name;
    const known = this.found.get(key);
    if (!known && this.found.size >= MOST_SEEN) return;
    const of = known ?? { first: found, text: '', kept: true, t: [], values: [] };
    Object.assign(of, { text: found.text, kept: of.kept && found.kept === true });
    if (!found.kept) {
      of.t.push(t);
      of.values.push(found.value);
      if (of.t.length > this.most) {
        of.t.shift();
        of.values.shift();
      }
    }
    this.found.set(key, of);
  }

  read(t: number, values: Map<string, number>): void {
    for (const [name, value] of values) {
      const unit = this.channels.find((c) => c.name === name)?.unit ?? null;
      const own = unit ? UNITS[UNITS[unit].base].symbol : '';
      if (!Number.isNaN(value)) this.see({ query: '', name, unit: null, text: `${Number(value.toPrecision(7))} ${own}`.trim(), value }, t);
    }
  }

  identify(text: string): void {
    this.identity = text;
  }

  refuse(message: string): void {
    if (this.refused.at(-1) === message) return;
    this.refused.push(message);
    if (this.refused.length > MOST_REFUSED) this.refused.shift();
  }

  fail(error: unknown): void {
    this.problem =
      error instanceof LinkFailure || error instanceof LogError ? error.message : `It cannot be watched (${(error as Error).message}).`;
  }

  news(): Omit<ArrivingNews, 'what' | 'over' | 'lasts_s'> {
    const all = [...this.found.values()];
    const units = all.map(({ first }) => first.unit ?? unitOfName(first.name));
    const guesses = guessRoles(
      all.map(({ first, values }, i) => ({
        ...{ name: first.name, unit: units[i], other: false, values: Float64Array.from(values.slice(-MOST_READINGS.all)) },
      })),
    );
    const names = apart(all.map(({ first }) => channelName(first.name)));
    const seen = all.map(({ first, text, kept, t, values }, i): Arriving => {
      const named = this.channels.find((c) => (first.query ? c.query === first.query : c.name === first.name));
      return {
        ...{ query: first.query, name: named?.name ?? names[i], role: named?.role ?? guesses[i].role, text, kept },
        unit: named ? named.unit : units[i],
        quality: readingQuality(t, values),
      };
    });
    return { elapsed_s: this.elapsed(), seen, identity: this.identity, problem: this.problem, refused: [...this.refused] };
  }
}
