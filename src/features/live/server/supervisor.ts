import pg from 'pg';
import { database, followStore, isDatabaseGone } from '#app/database/pool';
import { execute, many, only } from '#app/database/query';
import { storeUrl } from '#app/database/servers';
import { log } from '#app/log';
import { OwnStore } from '#app/ownStore';
import { type LiveNews, listOpenLive } from '#features/live/store/live';
import { Follower } from './follower';

const LOOK_MS = 1000;
/** Number of the locks by which one process follows a run. */
const FOLLOWS = 6_174_001;
/** By this name of its connection another process that looks after live runs is known. */
const LISTENER = 'warm gauge live';

/**
 * Follows the live runs of the store. Each is followed by one process, which holds a lock on a connection of its own: where that connection
 * ends, as by a crash, another process takes the run up from what is stored.
 */
export class Supervisor {
  private client: pg.Client | null = null;
  private readonly followers = new Map<number, Follower>();
  private timer: NodeJS.Timeout | null = null;
  private looking = false;
  private stopped = false;
  private readonly store = new OwnStore();

  start(): void {
    this.timer = setInterval(() => void this.look(), LOOK_MS);
    void this.look();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    if (this.timer) clearInterval(this.timer);
    const others = this.followers.size > 0 && (await this.hasOthers().catch(() => false));
    await Promise.all([...this.followers.values()].map((f) => f.stop(others)));
    this.followers.clear();
    await this.client?.end().catch(() => {});
    this.client = null;
  }

  private async look(): Promise<void> {
    if (this.looking || this.stopped) return;
    this.looking = true;
    try {
      if (!this.client) {
        this.client = await this.listen();
        for (const id of this.followers.keys()) await this.takeAgain(id);
      }
      for (const [id, f] of this.followers) if (f.over) await this.leave(id);
      for (const id of await listOpenLive(database())) if (!this.followers.has(id)) await this.take(id);
    } catch (error) {
      if (isDatabaseGone(error)) {
        await followStore();
        await this.store.bringBack();
      } else log.error({ err: error }, 'live runs cannot be looked after');
    } finally {
      this.looking = false;
    }
  }

  private async listen(): Promise<pg.Client> {
    const client = new pg.Client({
      connectionString: storeUrl(),
      connectionTimeoutMillis: 4000,
      keepAlive: true,
      application_name: LISTENER,
    });
    let isGone = false;
    const gone = () => {
      isGone = true;
      if (this.client !== client) return;
      this.client = null;
      // the locks went with it; what is read meanwhile is held and stored when they are had again
      for (const f of this.followers.values()) f.pause();
    };
    // before it is connected: an end that comes at once would find nobody who hears it, and end the process
    client.on('error', gone).on('end', gone);
    await client.connect();
    client.on('notification', ({ payload }) => this.hear(payload ?? ''));
    await execute(client)`listen live`;
    if (isGone) throw new Error('Connection terminated');
    return client;
  }

  /** True where another process looks after live runs. */
  private async hasOthers(): Promise<boolean> {
    const rows = await many<{ n: number }>(
      this.client as pg.Client,
    )`select count(*) as n from pg_stat_activity where application_name = ${LISTENER}`;
    return rows[0].n > 1;
  }

  private hear(payload: string): void {
    const news = JSON.parse(payload) as LiveNews;
    const follower = this.followers.get(news.live);
    if (follower) follower.hear(news);
    else void this.look();
  }

  private async lock(id: number): Promise<boolean> {
    return (await only<{ got: boolean }>(this.client as pg.Client)`select pg_try_advisory_lock(${FOLLOWS}, ${id}) as got`).got;
  }

  /** A run whose lock was lost goes on here, unless another process has taken it up. */
  private async takeAgain(id: number): Promise<void> {
    const follower = this.followers.get(id) as Follower;
    if (await this.lock(id)) {
      await follower.resume();
      return;
    }
    this.followers.delete(id);
    // another process has it, and its load with it
    await follower.stop(true);
    follower.forgetLoad();
  }

  private async take(id: number): Promise<void> {
    if (!(await this.lock(id))) return;
    const follower = await Follower.take(id);
    if (follower && !this.stopped) this.followers.set(id, follower);
    else await this.leave(id);
  }

  private async leave(id: number): Promise<void> {
    this.followers.delete(id);
    await this.client?.query('select pg_advisory_unlock($1, $2)', [FOLLOWS, id]);
  }
}
