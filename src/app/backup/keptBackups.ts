import { readdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';

/** Backups that the application makes by itself bear the day and time (UTC) at which they were begun. */
const DAILY = /^daily-(\d{4}-\d\d-\d\d)T(\d\d)-(\d\d)-(\d\d)Z\.zip$/;
const BEFORE = /^before-.*Z\.zip$/;

const DAY_MS = 86_400_000;

/** So many of those made before an upgrade stay. */
const MOST_BEFORE = 3;

/** For how long a backup of each day, week and month is kept. */
export interface KeepingRule {
  days: number;
  weeks: number;
  months: number;
}

/** A backup in the folder. */
export interface KeptBackup {
  name: string;
  at: Date;
  bytes: number;
}

const stamp = (at: Date): string =>
  at
    .toISOString()
    .replace(/\.\d+Z$/, 'Z')
    .replaceAll(':', '-');

export const dailyName = (at: Date): string => `daily-${stamp(at)}.zip`;
/** @param migration that is about to change the store */
export const beforeName = (migration: string, at: Date): string => `before-${migration}-${stamp(at)}.zip`;

/** When a daily backup was begun, by its name; null for another file. */
export function dailyTime(name: string): Date | null {
  const [, day, hours, minutes, seconds] = DAILY.exec(name) ?? [];
  return day === undefined ? null : new Date(`${day}T${hours}:${minutes}:${seconds}Z`);
}

/** Daily backups in a folder, the newest first; none where there is no such folder. */
export async function listBackups(folder: string): Promise<KeptBackup[]> {
  const found: KeptBackup[] = [];
  for (const name of await namesIn(folder)) {
    const at = dailyTime(name);
    const file = at && (await stat(path.join(folder, name)).catch(() => null));
    if (at && file) found.push({ name, at, bytes: file.size });
  }
  return found.sort((a, b) => b.at.getTime() - a.at.getTime());
}

/** Deletes what the rule no longer keeps, and what is left of a backup that was cut off. */
export async function dropBackups(folder: string, rule: KeepingRule, now: Date): Promise<void> {
  const names = await namesIn(folder);
  const daily = names.filter((name) => dailyTime(name));
  const kept = keptOf(
    daily.map((name) => dailyTime(name) as Date),
    rule,
    now,
  );
  const before = await Promise.all(
    names.filter((n) => BEFORE.test(n)).map(async (name) => ({ name, at: (await stat(path.join(folder, name))).mtimeMs })),
  );
  const old = before.sort((a, b) => b.at - a.at).slice(MOST_BEFORE);
  const broken = names.filter((name) => {
    const begun = name.endsWith('.part') ? dailyTime(name.slice(0, -5)) : null;
    // a younger one may still be written by another process
    return begun && now.getTime() - begun.getTime() > DAY_MS;
  });
  const dropped = [...daily.filter((name) => !kept.has((dailyTime(name) as Date).getTime())), ...old.map((b) => b.name), ...broken];
  for (const name of dropped) await rm(path.join(folder, name), { force: true });
}

/**
 * Which backups a rule keeps: the newest of all, the newest of each of the last so many days, and the oldest of each of the last so many weeks
 * and months, so that one that was kept stays until its time is over.
 * @returns their times, ms since 1970
 */
export function keptOf(times: Date[], { days, weeks, months }: KeepingRule, now: Date): Set<number> {
  const ascending = times.map((t) => t.getTime()).sort((a, b) => a - b);
  const kept = new Set(ascending.slice(-1));
  const day = (t: number) => Math.floor(t / DAY_MS);
  // weeks begin on Monday; the first of January 1970 was a Thursday
  const week = (t: number) => Math.floor((day(t) + 3) / 7);
  const month = (t: number) => new Date(t).getUTCFullYear() * 12 + new Date(t).getUTCMonth();
  const keep = (periodOf: (t: number) => number, count: number, ordered: number[]) => {
    const seen = new Set<number>();
    for (const t of ordered) {
      const period = periodOf(t);
      if (period <= periodOf(now.getTime()) - count || seen.has(period)) continue;
      seen.add(period);
      kept.add(t);
    }
  };
  keep(day, days, [...ascending].reverse());
  keep(week, weeks, ascending);
  keep(month, months, ascending);
  return kept;
}

const namesIn = (folder: string): Promise<string[]> => readdir(folder).catch(() => []);
