import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { closeDatabase, database } from '#app/database/pool';
import { listBatches } from '#features/live/store/live';
import { insertSheet } from '#features/shelf/store/sheets';
import { insertMount, insertSpecimen, insertStudy } from '#features/study/store/studies';

/** What was acknowledged while things went wrong, and what of it is stored. */
export interface Count {
  readings: number;
  readings_stored: number;
  runs: number;
  runs_stored: number;
}

const BATCH = 20;

/**
 * Readings pushed to a live run and logs imported, without a pause and to whichever application answers; what was acknowledged is
 * remembered. What is not is sent again, as every sender does.
 */
export class Work {
  private stopped = false;
  private readonly acknowledged = new Set<number>();
  private readonly imported = new Set<string>();
  private running: Promise<unknown> = Promise.resolve();

  private constructor(
    private readonly urls: string[],
    private readonly live: number,
  ) {}

  /** @param databaseUrl store in which a live run is opened for it */
  static async begin(urls: string[], databaseUrl: string): Promise<Work> {
    await openStore(databaseUrl);
    const work = new Work(urls, await openLive(urls[0]));
    await closeDatabase();
    work.running = Promise.all([work.push(), work.importRuns()]);
    return work;
  }

  get count(): number {
    return this.acknowledged.size + this.imported.size;
  }

  /** Whether both kinds of work go on. */
  get isUnderWay(): boolean {
    return this.acknowledged.size > 400 && this.imported.size >= 8;
  }

  /** How far the live run is followed, s, as an application that answers says. */
  async followedTo(): Promise<number> {
    for (const url of this.urls) {
      const answer = await fetch(`${url}/api/live/${this.live}`, { signal: AbortSignal.timeout(4000) }).catch(() => null);
      if (answer?.ok) return ((await answer.json()) as { state: { t: number } }).state.t;
    }
    return Number.NaN;
  }

  /** Ends the work, and counts what of it is stored. */
  async end(databaseUrl: string): Promise<Count> {
    this.stopped = true;
    await this.running;
    await openStore(databaseUrl);
    const batches = await listBatches(database(), this.live, -1e9);
    const stored = new Set(batches.flatMap((b) => Array.from(b.t, (_, i) => b.seq_from + i)));
    const { rows } = await database().query<{ import_id: string }>('select import_id from runs');
    const runs = new Set(rows.map((r) => r.import_id));
    await closeDatabase();
    return {
      readings: this.acknowledged.size,
      readings_stored: [...this.acknowledged].filter((s) => stored.has(s)).length,
      runs: this.imported.size,
      runs_stored: [...this.imported].filter((i) => runs.has(i)).length,
    };
  }

  private async push(): Promise<void> {
    const began = Date.now() / 1000;
    for (let seq = 0; !this.stopped; seq += BATCH) {
      const lines = Array.from({ length: BATCH }, (_, i) =>
        JSON.stringify({
          source: 'card',
          seq: seq + i + 1,
          t: began + seq / 100 + i / 1000,
          values: { Die: 40 + (seq % 50) / 10, Room: 22 },
        }),
      );
      await this.untilTaken(async (url) => {
        const answer = await fetch(`${url}/api/live/${this.live}`, {
          ...{ method: 'POST', body: lines.join('\n'), signal: AbortSignal.timeout(8000) },
        });
        if (!answer.ok) return false;
        for (const s of ((await answer.json()) as { stored: number[] }).stored) this.acknowledged.add(s);
        return true;
      });
    }
  }

  private async importRuns(): Promise<void> {
    for (let i = 0; !this.stopped; i++) {
      const import_id = randomUUID();
      await this.untilTaken(async (url) => {
        const form = new FormData();
        const place = { study_title: `Fault ${i}`, specimen_name: 'A', specimen_kind: 'paste', rig_name: `Rig ${i}`, rig_limit_c: 95 };
        form.set(
          'plan',
          JSON.stringify({ import_id, reading: {}, place: { ...place, study_title: `Fault ${import_id}`, rig_name: `R ${import_id}` } }),
        );
        form.append('log', new File([logOf(import_id)], `${import_id}.csv`));
        const answer = await fetch(`${url}/api/imports`, { method: 'POST', body: form, signal: AbortSignal.timeout(20_000) });
        if (!answer.ok) return false;
        this.imported.add(import_id);
        return true;
      });
    }
  }

  private async untilTaken(send: (url: string) => Promise<boolean>): Promise<void> {
    for (let turn = 0; !this.stopped; turn++) {
      if (await send(this.urls[turn % this.urls.length]).catch(() => false)) return;
      await new Promise((done) => setTimeout(done, 50));
    }
  }
}

async function openStore(url: string): Promise<void> {
  await closeDatabase();
  process.env.DATABASE_URL = url;
}

/** A log of ten minutes that is like no other. */
function logOf(key: string): string {
  const rows = Array.from({ length: 600 }, (_, s) => {
    const rise = s < 60 ? 4 : 4 + 30 * (1 - Math.exp(-(s - 60) / 60));
    return `${s},${(22 + rise + (s % 7) / 20).toFixed(2)},22.0,${s < 60 ? 12 : 120}`;
  });
  return `# ${key}\nTime (s),Die (°C),Ambient (°C),Power (W)\n${rows.join('\n')}\n`;
}

/** A live run whose one device pushes. */
async function openLive(url: string): Promise<number> {
  const db = database();
  const key = randomUUID().slice(0, 8);
  const device = await insertSheet(db, 'instruments', `Card ${key}`, {
    ...{ address: 'push', channels: 'Die: sensor °C; Room: ambient °C', period_s: 0.1, calibrated_until: '2099-01-01' },
  } as never);
  const rig = (await insertSheet(db, 'rigs', `Rig ${key}`, {
    throttle_limit_c: 120,
    power_w: 140,
    instruments: [device],
  } as never)) as number;
  const study = (await insertStudy(db, { title: `Live ${key}`, question: '', margin_k: 1, reduction: {} })) as number;
  const specimen = (await insertSpecimen(db, study, 'A', 'paste')) as number;
  const { id: mount } = await insertMount(db, specimen, rig, '');
  const answer = await fetch(`${url}/api/live`, {
    ...{ method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ mount_id: mount }) },
  });
  return ((await answer.json()) as { id: number }).id;
}

/** Migrations that a store has, and how much of a person's it holds. */
export async function contentsOf(url: string): Promise<string> {
  const client = new pg.Client(url);
  await client.connect();
  try {
    const tables = ['all_studies', 'all_mounts', 'all_runs', 'log_files', 'photographs', 'findings', 'migrations'];
    const { rows } = await client.query(tables.map((t) => `select '${t}' as name, count(*) as n from ${t}`).join(' union all '));
    return rows.map((r) => `${r.name} ${r.n}`).join(', ');
  } finally {
    await client.end();
  }
}
