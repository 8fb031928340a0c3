import { database } from '#app/database/pool';
import { samplesHead } from '#features/exchange/model/samples';
import { loadTrace } from '#features/run/store/traces';
import type { GatheredPackage } from './gatherPackage';
import { exchangeThreads } from './tasks';

/** Lines that are made at a time. */
const LINES = 32_768;

/** The samples of a run as gzipped lines, a stretch at a time: the store is asked, a thread writes and packs, and the next is asked meanwhile. */
export async function* sampleBytes({
  run_id,
  start_ms,
  period_s,
  duration_s,
  channels,
}: GatheredPackage['samples'][number]): AsyncGenerator<Uint8Array> {
  const length = Math.max(1, LINES * period_s);
  const count = Math.max(1, Math.ceil((duration_s + period_s) / length));
  const piece = async (i: number): Promise<Uint8Array> => {
    // times before the first reading of the first file, and behind its last, are those of another file
    const [from, to] = [i === 0 ? -1e9 : i * length, i === count - 1 ? 1e12 : (i + 1) * length];
    const loaded = (await loadTrace(database(), run_id, from, to)).filter((c) => c.role !== 'rise');
    const readings = loaded.map(({ t, values }) => ({ t, values }));
    return exchangeThreads.samplesPiece({ head: i === 0 ? samplesHead(channels) : '', readings, from, to, start_ms });
  };
  let next: Promise<Uint8Array> | null = piece(0);
  for (let i = 1; next; i++) {
    const ready: Uint8Array = await next;
    next = i < count ? piece(i) : null;
    // whoever stops taking them leaves it unheard
    next?.catch(() => {});
    yield ready;
  }
}
