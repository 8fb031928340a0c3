/** So long a backup may be missing before it is warned of, days. */
export const MOST_DAYS_WITHOUT = 3;
const DAY_MS = 86_400_000;

/** What is known of the backups of a store that has one every day. */
export interface BackupFacts {
  /** when the newest was begun, ms since 1970; null where there is none */
  newest: number | null;
  /** when the store was made */
  store_made: number;
  /** why the last attempt since the start failed; null where none did */
  problem: string | null;
  /** how long the application has run, ms: one that has just been started has had no time for a backup */
  running_ms: number;
}

/** The warning where no backup succeeded for three days; null where all is well, or may still become so. */
export function backupWarning({ newest, store_made, problem, running_ms }: BackupFacts, now: number): string | null {
  const days = (now - (newest ?? store_made)) / DAY_MS;
  if (days <= MOST_DAYS_WITHOUT || (problem === null && running_ms < DAY_MS / 24)) return null;
  const since =
    newest === null
      ? `No backup was made since the store was, ${Math.floor(days)} days ago`
      : `The newest backup is ${Math.floor(days)} days old`;
  return `${since}${problem === null ? '' : `: ${problem}`}. See Backups in the settings.`;
}

/** How long ago a moment under a day away was; null for an older one, which is told by its date. */
export function agoWords(at: number, now: number): string | null {
  const minutes = Math.max(0, Math.floor((now - at) / 60_000));
  if (minutes < 60) return `${minutes} min ago`;
  return minutes < 1440 ? `${Math.floor(minutes / 60)} h ago` : null;
}
