import { statfs } from 'node:fs/promises';
import { database } from '#app/database/pool';
import { bytesWords } from '#core/text/bytesWords';
import { busiestDayBytes } from '#features/bench/store/storedBytes';

/** Traces, their times and the store's own log take about as much again, twice, as the logs they come from. */
const PER_LOG_BYTE = 3;
/** A day of a lab that stored little so far. */
const LEAST_DAY_BYTES = 500e6;

/** What a day takes is told anew so often: it is an estimate. */
const TOLD_FOR_MS = 600_000;

/** Room that is left on the disk of the store. */
export interface StoreRoom {
  free_bytes: number;
  /** what a day takes, by the busiest of the last thirty */
  day_bytes: number;
  /** less is left than a day takes */
  is_low: boolean;
}

/** Room that is left for the own store; null where the store is elsewhere and its disk is not seen. */
export async function storeRoom(folder = process.env.WARM_GAUGE_STORE_FOLDER): Promise<StoreRoom | null> {
  if (!folder) return null;
  const disk = await statfs(folder).catch(() => null);
  if (!disk) return null;
  if (busiest === null || Date.now() - busiest.at > TOLD_FOR_MS) busiest = { at: Date.now(), bytes: await busiestDayBytes(database()) };
  return roomOf(disk.bavail * disk.bsize, busiest.bytes);
}

let busiest: { at: number; bytes: number } | null = null;

/** Whether the room that is left is less than a day takes. */
export function roomOf(free_bytes: number, busiest_day_bytes: number): StoreRoom {
  const day_bytes = Math.max(LEAST_DAY_BYTES, PER_LOG_BYTE * busiest_day_bytes);
  return { free_bytes, day_bytes, is_low: free_bytes < day_bytes };
}

/** The warning where a day more may not fit; null where there is room. */
export const roomWarning = (room: StoreRoom | null): string | null =>
  room?.is_low
    ? `The disk of the store has ${bytesWords(room.free_bytes)} left, and a busy day takes about ${bytesWords(room.day_bytes)}. Make room before the next runs; what does not fit is refused.`
    : null;
