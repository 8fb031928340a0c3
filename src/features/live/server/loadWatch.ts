import { connect } from 'node:net';
import path from 'node:path';
import {
  type CutRecord,
  cutFile,
  isAlive,
  type OffCommand,
  otherApps,
  readJsonFile,
  removeFile,
  STALE_MS,
  type WatchedLoad,
  type WatchFile,
  writeWhole,
} from './loadWatchFile';

/**
 * The load watch: a small process of its own that outlives the application. It reads what the application has under load, and switches it
 * off where the application or its launcher has ended, or its runs were not followed for 20 s. It is no substitute for a thermal cut-out.
 */
const LOOK_MS = 300;
/** Another application of the store may take the run up within this, ms. */
const GRACE_MS = Number(process.env.WARM_GAUGE_LOAD_GRACE_MS ?? 3000);
const ANSWER_MS = 1500;
const AGAIN_MS = 1000;
const GIVES_UP_MS = 10 * 60_000;

const file = process.argv[2];
const folder = path.dirname(file);
const say = (text: string) => process.stderr.write(`Warm Gauge load watch: ${text}\n`);
/** since when nobody watches, by live run */
const unwatched = new Map<string, number>();
const done = new Set<string>();
const acting = new Set<string>();
const told = new Set<string>();

/** Why nobody watches a load; null where somebody does. */
function unwatchedBecause({ app, launcher }: WatchFile, load: WatchedLoad): string | null {
  if (!isAlive(app)) return 'the application ended';
  if (launcher && !isAlive(launcher)) return 'the program that started the application ended';
  return Date.now() - load.beat > STALE_MS ? `the application did not follow the run for ${STALE_MS / 1000} s` : null;
}

function look(): void {
  const seen = readJsonFile<WatchFile>(file);
  if (!seen) {
    // nothing is under load any more
    if (acting.size === 0) process.exit(0);
    return;
  }
  for (const load of seen.loads) {
    if (acting.has(load.run)) continue;
    const why = unwatchedBecause(seen, load);
    if (why === null) {
      // somebody watches it, perhaps again: what was cut before counts no more
      unwatched.delete(load.run);
      done.delete(load.run);
      continue;
    }
    if (done.has(load.run)) continue;
    const since = unwatched.get(load.run) ?? Date.now();
    unwatched.set(load.run, since);
    const others = otherApps(folder, file).some((f) => f.loads.some((l) => l.run === load.run && Date.now() - l.beat < STALE_MS));
    if (others) done.add(load.run);
    else if (Date.now() - since >= (isAlive(seen.app) ? 0 : GRACE_MS)) void cut(load, why);
  }
  const ended = !isAlive(seen.app);
  if (ended && acting.size === 0 && seen.loads.every((l) => done.has(l.run))) {
    removeFile(file);
    process.exit(0);
  }
}

/** Switches a load off, again and again until it was heard, and leaves word of it for the application. */
async function cut(load: WatchedLoad, why: string): Promise<void> {
  acting.add(load.run);
  const began = Date.now();
  const record: CutRecord = { run: load.run, at: began, why: `The load was switched off because nobody watched it: ${why}.` };
  // said before it is done: whoever comes back must not go on as if nothing had been
  writeWhole(cutFile(folder, load.run), record);
  const open = new Set(load.off);
  while (open.size > 0 && Date.now() - began < GIVES_UP_MS) {
    for (const off of [...open]) if (await send(off)) open.delete(off);
    if (open.size === 0) break;
    if (!told.has(load.run) && Date.now() - began > 5000) {
      told.add(load.run);
      say(`${load.rig} is under load and its switch does not answer. SWITCH IT OFF BY HAND.`);
    }
    await new Promise((next) => setTimeout(next, AGAIN_MS));
  }
  if (open.size === 0) say(`${load.rig} was under load and ${why}; its load was switched off.`);
  acting.delete(load.run);
  done.add(load.run);
}

/** True where the command was taken by a connection that was made for it. */
const send = ({ host, port, command }: OffCommand): Promise<boolean> =>
  new Promise((heard) => {
    const socket = connect({ host, port });
    const end = (ok: boolean) => {
      clearTimeout(timer);
      socket.destroySoon();
      heard(ok);
    };
    const timer = setTimeout(() => end(false), ANSWER_MS);
    socket.once('error', () => end(false));
    socket.once('connect', () => {
      // the answer to a question behind it shows that the command was read
      socket.write(`${command}\n*IDN?\n`);
      socket.once('data', () => end(true));
    });
  });

for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => {});
setInterval(look, LOOK_MS);
