import { database, isDatabaseGone } from '#app/database/pool';
import { seededRandom } from '#core/stats/random';
import { getLive, listOpenLive } from '#features/live/store/live';
import { setAddress } from '#features/shelf/store/sheets';
import { NORTH_BENCH, SOUTH_BENCH } from '#simulator/rigs';
import { INSTRUMENTS, type InstrumentKey, type RunningBench, startBench } from '#simulator/startSimulator';
import { DEMO_SPEED } from './shelf';
import { MATERIALS } from './studyOne';

const LOOK_MS = 500;
const SHEETS: Record<InstrumentKey, string> = { thermometer: 'Scanner', power: 'Load', tachometer: 'Tachometer', sound: 'Sound meter' };

interface Site {
  letter: 'N' | 'S';
  rig: string;
  bench: RunningBench;
  /** live run whose specimen is on it */
  live: number | null;
}

/**
 * Keeps the two simulated benches of the demo running where its instruments are on the shelf: notes their addresses, puts the specimen of
 * each new live run under the cooler, and lets the card push its readings to it.
 * @param url address of the application
 */
export function keepDemoBench(url: string): { stop: () => Promise<void> } {
  let sites: Site[] | null = null;
  let looking: Promise<void> | null = null;
  const look = async () => {
    sites ??= await openSites();
    if (sites) for (const id of await listOpenLive(database())) await mountSpecimen(sites, id, url);
  };
  const timer = setInterval(() => {
    looking ??= look()
      .catch((error) => {
        if (!isDatabaseGone(error)) throw error;
      })
      .finally(() => {
        looking = null;
      });
  }, LOOK_MS);
  return {
    async stop() {
      clearInterval(timer);
      await looking;
      await Promise.all((sites ?? []).map((s) => s.bench.stop()));
    },
  };
}

async function openSites(): Promise<Site[] | null> {
  const sites: Site[] = [];
  for (const [letter, rig] of [
    ['N', 'North bench'],
    ['S', 'South bench'],
  ] as const) {
    if (!(await setAddress(database(), `Scanner ${letter}`, '127.0.0.1:1'))) return null;
    const simulated = letter === 'N' ? NORTH_BENCH : SOUTH_BENCH;
    const bench = await startBench({
      ...{
        rig: simulated,
        interface_k_per_w: MATERIALS[0].resistance,
        room_c: 22,
        seed: letter === 'N' ? 71 : 72,
        speed: DEMO_SPEED,
        port: null,
      },
      host: { period_s: 2, channels: ['Clock', 'Throttling'] },
    });
    for (const key of Object.keys(INSTRUMENTS) as InstrumentKey[])
      await setAddress(database(), `${SHEETS[key]} ${letter}`, `127.0.0.1:${bench.ports[key]}`);
    sites.push({ letter, rig, bench, live: null });
  }
  return sites;
}

async function mountSpecimen(sites: Site[], id: number, url: string): Promise<void> {
  if (sites.some((s) => s.live === id)) return;
  const live = await getLive(database(), id);
  const site = sites.find((s) => s.rig === live?.rig);
  if (!live || !site) return;
  site.live = id;
  const material = MATERIALS.find((m) => m.name === live.specimen) ?? MATERIALS[0];
  const scatter = (material.mount_sd_k / NORTH_BENCH.load_w) * seededRandom(live.mount_id).normal();
  site.bench.bench.remount(material.resistance + scatter);
  site.bench.host?.pushTo(`${url}/api/live/${id}`);
}
